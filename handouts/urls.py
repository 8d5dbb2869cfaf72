from django.urls import path

from . import views

app_name = "handouts"
urlpatterns = [
    path("<int:try_pk>/", views.card, name="card"),
    path("<int:try_pk>/card.pdf", views.card_pdf, name="card_pdf"),
]
