"""For whoever runs the server: whether it lives, whether it can work, and how it goes. Nothing of any patient."""

import hmac
import os
from time import perf_counter

from django.conf import settings
from django.contrib.auth.decorators import login_not_required
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.http import Http404, HttpResponse, JsonResponse
from django.views.decorators.http import require_safe
from prometheus_client import CONTENT_TYPE_LATEST, CollectorRegistry, Counter, Histogram, generate_latest, multiprocess

from accounts.permissions import allowed
from nutrition.food.table import foods

REQUESTS = Counter("open_gate_requests", "Requests answered", ("view", "method", "status"))
SECONDS = Histogram(
    "open_gate_request_seconds", "Seconds to an answer", ("view",), buckets=(0.02, 0.05, 0.1, 0.2, 0.3, 0.6, 1, 3, 10)
)


class MetricsMiddleware:
    """Counts every answer by the name of its view."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        started = perf_counter()
        response = self.get_response(request)
        view = request.resolver_match.view_name if request.resolver_match else "none"
        REQUESTS.labels(view, request.method, response.status_code).inc()
        SECONDS.labels(view).observe(perf_counter() - started)
        return response


@allowed("server.watch")
@login_not_required
@require_safe
def live(request):
    """The process answers."""
    return HttpResponse("lives", content_type="text/plain")


@allowed("server.watch")
@login_not_required
@require_safe
def ready(request):
    """It can work: the database answers and is of this version, the food table is loaded. 503 while it cannot."""
    said = {"foods": len(foods())}
    try:
        executor = MigrationExecutor(connection)
        said["database"] = "to be migrated" if executor.migration_plan(executor.loader.graph.leaf_nodes()) else "ready"
    except Exception as problem:
        said["database"] = type(problem).__name__
    return JsonResponse(said, status=200 if said["database"] == "ready" else 503)


@allowed("server.watch")
@login_not_required
@require_safe
def metrics(request):
    """For Prometheus, with the token of the settings as bearer; without one there is no such address."""
    token = settings.METRICS_TOKEN
    told = request.headers.get("Authorization", "").removeprefix("Bearer ")
    if not token or not hmac.compare_digest(told.encode(), token.encode()):
        raise Http404("no such address")
    registry = None
    if os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        registry = CollectorRegistry()
        multiprocess.MultiProcessCollector(registry)
    body = generate_latest(registry) if registry else generate_latest()
    with connection.cursor() as cursor:
        cursor.execute("SELECT state, count(*) FROM errands_errand WHERE ended_at IS NULL GROUP BY state")
        lines = "".join(f'open_gate_errands{{state="{state}"}} {count}\n' for state, count in cursor.fetchall())
    waiting = f"# HELP open_gate_errands Long work not ended\n# TYPE open_gate_errands gauge\n{lines}"
    return HttpResponse(body + waiting.encode(), content_type=CONTENT_TYPE_LATEST)
