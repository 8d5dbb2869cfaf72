from django.urls import path

from . import views

app_name = "recipes"
urlpatterns = [
    path("", views.recipes, name="recipes"),
    path("options/", views.options, name="options"),
    path("folders/", views.folders, name="folders"),
    path("import/", views.bring, name="import"),
    path("<int:pk>/", views.recipe, name="recipe"),
    path("<int:pk>/reading/", views.reading, name="reading"),
    path("<int:pk>/reading/words/", views.rewrite, name="rewrite"),
    path("<int:pk>/reading/waved/", views.wave_off, name="wave_off"),
    path("<int:pk>/reading/eaten/", views.eaten, name="eaten"),
    path("<int:pk>/reading/done/", views.finish_reading, name="finish_reading"),
    path("<int:pk>/tags/", views.tags, name="tags"),
    path("<int:pk>/put-away/", views.put_away, name="put_away"),
    path("<int:pk>/duplicate/", views.duplicate, name="duplicate"),
    path("<int:pk>/delete/", views.delete, name="delete"),
    path("<int:pk>/parts/", views.use_part, name="use_part"),
    path("parts/<int:pk>/", views.part, name="part"),
    path("lines/<int:pk>/", views.line, name="line"),
]
