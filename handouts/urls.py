from django.urls import path

from . import public, views

app_name = "handouts"
urlpatterns = [
    path("paper/<int:errand_pk>/", views.paper_state, name="paper_state"),
    path("", views.handouts, name="handouts"),
    path("<int:try_pk>/", views.card, name="card"),
    path("<int:try_pk>/card.pdf", views.card_pdf, name="card_pdf"),
    path("<int:try_pk>/shopping/", views.shopping_list, name="shopping"),
    path("<int:try_pk>/release/", views.release, name="release"),
    path("of/<int:person_pk>/", views.lay_out, name="lay_out"),
    path("released/<int:pk>/", views.released, name="released"),
    path("released/<int:pk>/card.pdf", views.released_pdf, name="released_pdf"),
    path("released/<int:pk>/recall/", views.recall, name="recall"),
    path("released/<int:pk>/link/", views.give_link, name="give_link"),
    path("link/<int:pk>/withdraw/", views.withdraw, name="withdraw"),
    path("for/<str:token>/", public.card, name="public"),
    path("for/<str:token>/card.pdf", public.card_pdf, name="public_pdf"),
]
