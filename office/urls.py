from django.urls import path

from . import figures, views

app_name = "office"
urlpatterns = [
    path("", views.members, name="members"),
    path("account/", views.own, name="own"),
    path("account/sessions/", views.end_sessions, name="end_sessions"),
    path("invite/", views.invite, name="invite"),
    path("invitations/<int:pk>/withdraw/", views.withdraw, name="withdraw"),
    path("join/<str:token>/", views.join, name="join"),
    path("members/<int:pk>/", views.change_member, name="change_member"),
    path("members/<int:pk>/active/", views.set_active, name="set_active"),
    path("practice/", views.practice, name="practice"),
    path("figures/", figures.figures, name="figures"),
    path("figures/<path:food_id>/", figures.verify, name="verify"),
    path("log/", views.log, name="log"),
    path("people/<int:pk>/log/", views.person_log, name="person_log"),
    path("people/<int:pk>/hand-over/", views.hand_over, name="hand_over"),
    path("people/<int:pk>/export/", views.export, name="export"),
    path("people/<int:pk>/erase/", views.erase, name="erase"),
]
