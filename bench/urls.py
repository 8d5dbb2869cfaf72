from django.urls import path

from . import views

app_name = "bench"
urlpatterns = [
    path("", views.benches, name="benches"),
    path("take/", views.take, name="take"),
    path("<int:pk>/", views.bench, name="bench"),
    path("<int:pk>/try/<int:try_pk>/", views.try_, name="try"),
    path("<int:pk>/try/<int:try_pk>/edit/", views.edit, name="edit"),
    path("<int:pk>/try/<int:try_pk>/branch/", views.branch, name="branch"),
    path("<int:pk>/try/<int:try_pk>/keep/", views.keep, name="keep"),
    path("<int:pk>/try/<int:try_pk>/compare/", views.compare, name="compare"),
    path("<int:pk>/try/<int:try_pk>/why/<slug:key>/", views.why, name="why"),
    path("<int:pk>/try/<int:try_pk>/jars/", views.jars, name="jars"),
    path("<int:pk>/try/<int:try_pk>/table/", views.table, name="table"),
    path("<int:pk>/try/<int:try_pk>/preview/", views.preview, name="preview"),
    path("<int:pk>/try/<int:try_pk>/way/", views.way, name="way"),
    path("<int:pk>/try/<int:try_pk>/way/<int:errand_pk>/", views.way_state, name="way_state"),
    path("<int:pk>/try/<int:try_pk>/way/take/", views.take_way, name="take_way"),
    path("<int:pk>/renew/", views.renew, name="renew"),
    path("<int:pk>/put-away/", views.put_away, name="put_away"),
    path("<int:pk>/meal/", views.meal, name="meal"),
]
