"""How the application is served; `gunicorn jolly.wsgi` in this folder reads it.

Environment: BIND (an address, or fd://N for a socket that is open already), WORKERS (as many as
there are cores), OWNER (the process without which this one ends itself).
"""

import os
import shutil
import signal
import tempfile
import threading
import time
from typing import Any

bind = os.environ.get("BIND", "127.0.0.1:8000")
workers = int(os.environ.get("WORKERS") or len(os.sched_getaffinity(0)))
worker_class = "jolly.worker.WholeRequests"
threads = 8
worker_connections = 1000
timeout = 60
graceful_timeout = 5
loglevel = "warning"
control_socket_disable = True
os.environ["PROMETHEUS_MULTIPROC_DIR"] = tempfile.mkdtemp(prefix="jolly-metrics-")
"""Where the processes lay their figures, so that any of them can tell those of all."""


def on_starting(server: Any) -> None:
    """End with the process that started this one, however that ended."""
    owner = int(os.environ.get("OWNER", "0"))
    if owner:
        threading.Thread(target=_end_without, args=(owner,), daemon=True).start()


def _end_without(owner: int) -> None:
    while os.getppid() == owner:
        time.sleep(0.5)
    os.kill(os.getpid(), signal.SIGTERM)


def child_exit(server: Any, worker: Any) -> None:
    """What an ended process has counted stays; it is no worker any more."""
    from prometheus_client.multiprocess import mark_process_dead

    mark_process_dead(worker.pid)


def on_exit(server: Any) -> None:
    """The figures go with the service."""
    shutil.rmtree(os.environ["PROMETHEUS_MULTIPROC_DIR"], ignore_errors=True)
