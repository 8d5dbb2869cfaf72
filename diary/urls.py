from django.urls import path

from . import views

app_name = "diary"
urlpatterns = [path("<int:bench_pk>/", views.diary, name="diary")]
