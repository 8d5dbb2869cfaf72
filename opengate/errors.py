"""The page for what went wrong on our side: it shows the number under which the log has it."""

from django.shortcuts import render


def server_error(request):
    return render(request, "500.html", {"number": getattr(request, "number", "")}, status=500)
