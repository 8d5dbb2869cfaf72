from django.urls import path

from . import views

app_name = "pantry"
urlpatterns = [
    path("", views.pantry, name="pantry"),
    path("foods/names/", views.names, name="names"),
    path("foods/", views.choose, name="choose"),
    path("food/<path:food_id>/", views.food, name="food"),
    path("labels/enter/", views.enter, name="enter"),
    path("labels/<int:pk>/correct/", views.correct, name="correct"),
    path("labels/<int:pk>/retire/", views.retire, name="retire"),
    path("weights/", views.felt, name="felt"),
    path("swaps/add/", views.add_rule, name="add_rule"),
    path("swaps/<int:pk>/delete/", views.delete_rule, name="delete_rule"),
    path("aliases/<int:pk>/delete/", views.forget, name="forget"),
]
