from django.urls import path

from . import views, views_days

app_name = "meals"
urlpatterns = [
    path("", views.meals, name="meals"),
    path("begin/", views.begin, name="begin"),
    path("day/<int:person_pk>/", views_days.day, name="today_of"),
    path("day/<int:person_pk>/<str:on>/", views_days.day, name="day"),
    path("day/<int:person_pk>/<str:on>/<str:meal>/", views_days.day_dishes, name="day_dishes"),
    path("week/", views_days.whose, name="whose"),
    path("week/<int:person_pk>/", views_days.week, name="week"),
    path("week/<int:person_pk>/<str:on>/", views_days.week, name="week_from"),
    path("week/<int:person_pk>/<str:on>/shopping/", views_days.shopping_list, name="shopping"),
    path("week/<int:person_pk>/<str:on>/at-home/", views_days.at_home, name="at_home"),
    path("week/<int:person_pk>/<str:on>/sheet/", views_days.sheet, name="sheet"),
    path("week/<int:person_pk>/<str:on>/link/", views_days.give_week, name="give_week"),
    path("links/<int:pk>/withdraw/", views_days.withdraw_week, name="withdraw_week"),
    path("for/<str:token>/", views_days.public_week, name="public_week"),
    path("week/<int:person_pk>/<str:on>/meals.ics", views_days.calendar, name="calendar"),
    path("week/<int:person_pk>/<str:on>/copy/", views_days.copy, name="copy"),
    path("plan/<int:person_pk>/", views_days.plan, name="plan"),
    path("plan/<int:person_pk>/<int:errand_pk>/", views_days.plan_state, name="plan_state"),
    path("plan/<int:person_pk>/<int:errand_pk>/take/", views_days.take_plan, name="take_plan"),
    path("lay/<int:person_pk>/", views_days.lay, name="lay"),
    path("<int:pk>/", views.table, name="table"),
    path("<int:pk>/facts/", views.facts, name="facts"),
    path("<int:pk>/change/", views.change, name="change"),
    path("<int:pk>/find/", views.find, name="find"),
    path("<int:pk>/way/<int:dish_pk>/", views.way, name="way"),
    path("<int:pk>/way/<int:dish_pk>/<int:errand_pk>/", views.way_state, name="way_state"),
    path("<int:pk>/whole/", views.whole_table, name="whole"),
    path("<int:pk>/whole/<int:errand_pk>/", views.whole_state, name="whole_state"),
    path("<int:pk>/pot/<int:dish_pk>/", views.pot, name="pot"),
    path("<int:pk>/clock/", views.clock, name="clock"),
    path("<int:pk>/clear/", views.clear, name="clear"),
]
