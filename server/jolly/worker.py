"""The serving process: gunicorn starts, watches and ends it, waitress reads for it.

A request is given a thread only once all of it has arrived, so that clients which send slowly, or
never finish, hold up nobody. A request has to arrive within a time, however it trickles.
"""

import os
import resource
import time
from typing import Any

from django.conf import settings
from gunicorn.workers.base import Worker
from waitress import wasyncore
from waitress.channel import HTTPChannel
from waitress.server import create_server

SECONDS_TO_ARRIVE = 60
"""For one whole request; also for how long an idle connection is kept."""
SECONDS_TO_SPEAK = 0.3
"""So long, before it ends, what has just connected may take to say what it wants."""
MOST_MEMORY = 2 * 2**30
"""Of address space, in bytes; a request that wants more is refused (MemoryError)."""


class TimedChannel(HTTPChannel):  # type: ignore[misc]
    """A connection on which half a request is no sign of life."""

    last_activity: float

    def handle_read(self) -> None:
        """Read what has come; the clock goes on while a request is incomplete."""
        began: float | None = self.last_activity if self.request is not None else None
        super().handle_read()
        if began is not None and self.request is not None:
            self.last_activity = began


class WholeRequests(Worker):  # type: ignore[misc]
    """A gunicorn worker that serves through waitress."""

    server: Any = None

    def init_process(self) -> None:
        """Take no more memory than this, whatever is asked."""
        _, hard = resource.getrlimit(resource.RLIMIT_AS)
        most = MOST_MEMORY if hard == resource.RLIM_INFINITY else min(MOST_MEMORY, hard)
        resource.setrlimit(resource.RLIMIT_AS, (most, hard))
        super().init_process()

    def handle_exit(self, sig: int, frame: Any) -> None:
        """Asked to end: wake up at once to do so."""
        self.alive = False
        if self.server is not None:
            self.server.pull_trigger()

    def run(self) -> None:
        """Serve until told to end, or until the process that started this one is gone."""
        self.server = create_server(
            self.wsgi, sockets=[each.sock for each in self.sockets], threads=self.cfg.threads,
            channel_timeout=SECONDS_TO_ARRIVE, cleanup_interval=2, asyncore_use_poll=True,
            connection_limit=self.cfg.worker_connections, backlog=self.cfg.backlog,
            max_request_body_size=settings.LARGEST_BODY,
            channel_request_lookahead=1,  # so that a client that has gone is noticed
            max_request_header_size=2**16, clear_untrusted_proxy_headers=False, ident=None)
        self.server.channel_class = TimedChannel
        while self.alive and os.getppid() == self.ppid:
            self.notify()
            wasyncore.loop(timeout=1.0, map=self.server._map, use_poll=True, count=1)
        self.server.accepting = False
        began = time.monotonic()
        while time.monotonic() - began < SECONDS_TO_SPEAK or (
                any(channel.requests for channel in self.server.active_channels.values())
                and time.monotonic() - began < self.cfg.graceful_timeout):
            self.notify()
            wasyncore.loop(timeout=0.05, map=self.server._map, use_poll=True, count=1)
        self.server.task_dispatcher.shutdown(timeout=1)
