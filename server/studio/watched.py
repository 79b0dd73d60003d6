"""What operators see of the service: figures for Prometheus, and a line for each request.

`/metrics` is answered only to who asks from the inside: from one of settings.METRICS_FROM, and not
through a proxy of ours.
"""

import logging
import os
import time
from collections.abc import Callable, Iterator
from contextvars import ContextVar
from ipaddress import ip_address
from secrets import token_hex

from django.conf import settings
from django.db import DatabaseError, connection
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from prometheus_client import (
    CONTENT_TYPE_LATEST,
    CollectorRegistry,
    Counter,
    Gauge,
    Histogram,
    generate_latest,
)
from prometheus_client.core import GaugeMetricFamily
from prometheus_client.multiprocess import MultiProcessCollector
from prometheus_client.registry import Collector

METRICS = "/metrics"
METHODS = frozenset({"GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"})
REQUESTS = Counter("jolly_requests", "Requests that were answered.", ("operation", "status"))
SECONDS = Histogram("jolly_request_seconds", "From a request to its answer.", ("operation",),
                    buckets=(0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 15))
UNDER_WAY = Gauge("jolly_requests_under_way", "Requests that are being answered now.",
                  multiprocess_mode="livesum")
WORKERS = Gauge("jolly_workers", "Processes that answer requests.", multiprocess_mode="livesum")
WORKERS.set(1)
_log = logging.getLogger("jolly.requests")
_request: ContextVar[str] = ContextVar("request", default="")


class Database(Collector):
    """How the database is, asked when somebody wants to know."""

    def collect(self) -> Iterator[GaugeMetricFamily]:
        """Whether it answers; if so, how quickly, its connections and its size."""
        began = time.monotonic()
        try:
            with connection.cursor() as cursor:
                cursor.execute("SELECT pg_database_size(current_database()), count(*) "
                               "FROM pg_stat_activity WHERE datname = current_database()")
                size, connections = cursor.fetchone()
        except DatabaseError:
            yield _gauge("up", "Whether the database answers.", 0)
            return
        yield _gauge("up", "Whether the database answers.", 1)
        yield _gauge("seconds", "In which it has just answered.", time.monotonic() - began)
        yield _gauge("connections", "Connections to the database.", connections)
        yield _gauge("bytes", "Its size.", size)


def _gauge(name: str, about: str, value: float) -> GaugeMetricFamily:
    return GaugeMetricFamily(f"jolly_database_{name}", about, value=value)


class Watched:
    """The middleware that counts requests and gives each an id, which its answer and its lines in
    the log bear. It stands before all others, so that figures are had under any name of the host.
    """

    def __init__(self, answer: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, with the request's id."""
        if request.path == METRICS:
            return _metrics(request)
        _request.set(token_hex(5))
        began = time.monotonic()
        with UNDER_WAY.track_inprogress():
            answer = self._answer(request)
        seconds = time.monotonic() - began
        operation = _operation(request)
        REQUESTS.labels(operation, answer.status_code).inc()
        SECONDS.labels(operation).observe(seconds)
        answer["X-Request-Id"] = _request.get()
        _log.info("answered", extra={"operation": operation, "status": answer.status_code,
                                     "seconds": round(seconds, 4)})
        return answer


def _operation(request: HttpRequest) -> str:
    """What was asked for, without what differs from thing to thing."""
    method = request.method if request.method in METHODS else "OTHER"
    found = request.resolver_match
    if found is None:
        return f"{method} a file"
    return f"{method} the page" if found.url_name == "page" else f"{method} /{found.route}"


def _metrics(request: HttpRequest) -> HttpResponse:
    """The figures of all processes of this host; nothing for who comes from outside."""
    through_proxy = {"X-Forwarded-For", "Forwarded", "X-Real-Ip"} & set(request.headers)
    try:
        address = ip_address(request.META["REMOTE_ADDR"])
    except ValueError:  # by a socket of the host
        address = ip_address("127.0.0.1")
    if through_proxy or not any(address in network for network in settings.METRICS_FROM):
        return HttpResponse(status=404)
    registry = CollectorRegistry()
    if "PROMETHEUS_MULTIPROC_DIR" in os.environ:
        MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    else:
        for figure in (REQUESTS, SECONDS, UNDER_WAY, WORKERS):
            registry.register(figure)
    registry.register(Database())
    return HttpResponse(generate_latest(registry), content_type=CONTENT_TYPE_LATEST)


class WithRequest(logging.Filter):
    """Gives each line the id of the request that it is about."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Every line passes."""
        record.request_id = _request.get()
        return True
