from django.urls import path

from . import tasting, views

app_name = "kitchen"
urlpatterns = [
    path("", views.cooks, name="cooks"),
    path("begin/<int:try_pk>/", views.begin, name="begin"),
    path("<int:pk>/", views.stove, name="stove"),
    path("<int:pk>/tap/", views.tap, name="tap"),
    path("<int:pk>/timer/", views.timer, name="timer"),
    path("<int:pk>/shares/", views.shares, name="shares"),
    path("<int:pk>/foods/", views.foods_to_choose, name="foods"),
    path("<int:pk>/scale/", views.scale, name="scale"),
    path("<int:pk>/scale/set/", views.set_scale, name="set_scale"),
    path("<int:pk>/finish/", views.finish, name="finish"),
    path("<int:pk>/cooked/", views.cooked, name="cooked"),
    path("<int:pk>/taste/", tasting.taste, name="taste"),
    path("<int:pk>/decide/", tasting.decide, name="decide"),
    path("tasted/<int:bench_pk>/", tasting.sheet, name="sheet"),
    path("lessons/", tasting.lessons, name="lessons"),
]
