from django.urls import path

from . import views

app_name = "people"
urlpatterns = [
    path("", views.people, name="people"),
    path("add/", views.add, name="add"),
    path("find/", views.find, name="find"),
    path("<int:pk>/", views.person, name="person"),
    path("<int:pk>/edit/", views.edit, name="edit"),
    path("<int:pk>/put-away/", views.put_away, name="put_away"),
    path("<int:pk>/duplicate/", views.duplicate, name="duplicate"),
    path("<int:pk>/plans/", views.plans, name="plans"),
    path("<int:pk>/settle/", views.settle, name="settle"),
    path("<int:pk>/shares/", views.shares, name="shares"),
    path("<int:pk>/role-shares/", views.role_shares, name="role_shares"),
    path("<int:pk>/course/", views.course, name="course"),
    path("<int:pk>/tallies/add/", views.add_tally, name="add_tally"),
    path("tallies/<int:pk>/delete/", views.delete_tally, name="delete_tally"),
    path("<int:pk>/plans/foreseen/", views.foresee_plans, name="foresee"),
    path("<int:pk>/measured/", views.measure, name="measure"),
    path("<int:pk>/measured/back/", views.take_back_measured, name="take_back_measured"),
    path("<int:pk>/draft-again/", views.draft_again, name="draft_again"),
    path("<int:pk>/targets/add/", views.add_target, name="add_target"),
    path("<int:pk>/confirm/", views.confirm_all, name="confirm_all"),
    path("targets/<int:pk>/", views.edit_target, name="edit_target"),
    path("targets/<int:pk>/confirm/", views.confirm_target, name="confirm_target"),
    path("targets/<int:pk>/put-back/", views.put_back, name="put_back"),
    path("targets/<int:pk>/take-drafted/", views.take_drafted, name="take_drafted"),
    path("targets/<int:pk>/delete/", views.delete_target, name="delete_target"),
]
