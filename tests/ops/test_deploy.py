"""A public service as docs/deploy.md has it: nginx before two application processes."""

import http.client
import json
import os
import re
import shutil
import signal
import subprocess
import time
from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from django.conf import settings

from ops import database, machine
from ops.serve import application_env, listen, manage, served


class Visitor:
    """Somebody at the service, with a connection and cookies."""

    def __init__(self, port: int) -> None:
        self.port, self.cookies = port, {}

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        """What the API answers, which is no refusal."""
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=20)
        cookies = "; ".join(f"{name}={value}" for name, value in self.cookies.items())
        connection.request(method, path, json.dumps(body) if body is not None else None, {
            "Cookie": cookies, "Content-Type": "application/json",
            "X-CSRFToken": self.cookies.get("csrftoken", "")})
        answer = connection.getresponse()
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                cookie, _, rest = value.partition("=")
                self.cookies[cookie.strip()] = rest.partition(";")[0]
        text = answer.read()
        assert answer.status < 300, (path, answer.status, text)
        return json.loads(text) if path.startswith("/api/") and text else text


@pytest.fixture
def service(transactional_db: None, tmp_path: Path) -> Iterator[tuple[int, list[int]]]:
    """nginx's port, and the processes behind it."""
    db = settings.DATABASES["default"]
    url = "postgres://{USER}:{PASSWORD}@{HOST}:{PORT}/{NAME}".format(**db)
    env = application_env(url) | {"PROXIES": "1", "WORKERS": "1"}
    manage(env, "prepare")
    front, ports, processes = database.free_port(), [], []
    with ExitStack() as running:
        for _ in range(2):
            ports.append(database.free_port())
            processes.append(running.enter_context(served(listen(ports[-1]), env)).pid)
        given = (machine.ROOT / "docs" / "nginx.conf").read_text()
        for written, here in (("listen 443 ssl;", f"listen 127.0.0.1:{front};"),
                              ("127.0.0.1:8001", f"127.0.0.1:{ports[0]}"),
                              ("127.0.0.1:8002", f"127.0.0.1:{ports[1]}"),
                              ("/run/nginx.pid", f"{tmp_path}/nginx.pid"),
                              ("/var/log/nginx/error.log", f"{tmp_path}/error.log")):
            assert written in given
            given = given.replace(written, here)
        given = re.sub(r" *ssl_certificate.*\n", "", given)
        temporary = "".join(f"  {kind}_temp_path {tmp_path}/{kind};\n"
                            for kind in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi"))
        (tmp_path / "nginx.conf").write_text(given.replace("http {\n", "http {\n" + temporary))
        nginx = subprocess.Popen([shutil.which("nginx") or "/usr/sbin/nginx", "-c",
                                  str(tmp_path / "nginx.conf"), "-g", "daemon off;",
                                  "-p", str(tmp_path)], stderr=subprocess.DEVNULL)
        try:
            _wait_for(front)
            yield front, processes
        finally:
            nginx.terminate()
            nginx.wait(10)


def _wait_for(port: int) -> None:
    deadline = time.monotonic() + 30
    while time.monotonic() < deadline:
        try:
            assert Visitor(port).ask("GET", "/api/health") == {"detail": "All is well."}
            return
        except OSError:
            time.sleep(0.1)
    raise AssertionError("nginx does not answer")


def test_two_musicians_over_two_processes_one_of_which_is_killed(
        service: tuple[int, list[int]]) -> None:
    port, processes = service
    visitors = [Visitor(port) for _ in range(2)]
    places = []
    for number, visitor in enumerate(visitors):
        visitor.ask("GET", "/")
        visitor.ask("POST", "/api/accounts", {"username": f"keeper{number}",
                                              "password": "a-warm-greenhouse-9"})
        made = visitor.ask("POST", "/api/pieces", {"name": "Boiler", "key": str(uuid4())})
        pattern = made["patterns"][0]["id"]
        state = visitor.ask("POST", f"/api/patterns/{pattern}/state", {"end": 4})
        places.append({"pattern": pattern, "revision": state["revision"]})

    def turn(number: int, edit: dict[str, Any]) -> None:
        """An edit by one, which is seen at once by whichever process is asked next."""
        visitor, place = visitors[number], places[number]
        stored = visitor.ask("POST", f"/api/patterns/{place['pattern']}/edits", {
            "revision": place["revision"], "edits": [edit], "end": 4, "key": str(uuid4())})
        assert stored["revision"] > place["revision"]
        for _ in range(3):
            seen = visitor.ask("POST", f"/api/patterns/{place['pattern']}/state", {"end": 4})
            assert seen == stored
            look = visitor.ask("POST", f"/api/patterns/{place['pattern']}/look", {
                "revision": stored["revision"], "end": 4})
            assert look == stored["view"]
        place["revision"] = stored["revision"]

    for number in range(2):
        turn(number, {"do": "add_lane", "note": 42, "name": "Drip"})
    for velocity in range(60, 84):
        turn(velocity % 2, {"do": "set", "lane": "drip", "slot": "velocity", "value": velocity})
        if velocity == 70:
            os.killpg(processes[0], signal.SIGKILL)
    for visitor, place in zip(visitors, places, strict=True):
        undone = 0
        while True:
            state = visitor.ask("POST", f"/api/patterns/{place['pattern']}/undo", {
                "revision": place["revision"], "end": 4, "key": str(uuid4())})
            if state["revision"] == place["revision"]:
                break
            place["revision"], undone = state["revision"], undone + 1
        assert undone == 13, "twelve velocities and the lane: none lost, none stored twice"
