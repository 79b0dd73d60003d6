"""A public service as docs/deploy.md has it: nginx before two application processes."""

import http.client
import io
import json
import os
import signal
import socket
from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path
from typing import Any, NamedTuple
from uuid import uuid4
from zipfile import ZipFile

import pytest
from django.conf import settings
from lattice import MOST_MIDI_BYTES as MOST_MIDI
from prometheus_client.parser import text_string_to_metric_families
from studio.limits import MOST_SOUND

from ops import database
from ops.front import nginx_before
from ops.serve import SERVER_LOG, application_env, listen, manage, served
from tests.recordings import digest, recording

MIB = 2**20


class Visitor:
    """Somebody at the service, with a connection and cookies."""

    def __init__(self, port: int) -> None:
        self.port, self.cookies = port, {}

    def send(self, method: str, path: str, body: bytes | None, content: str) -> tuple[int, bytes]:
        """The status and what is answered."""
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        cookies = "; ".join(f"{name}={value}" for name, value in self.cookies.items())
        connection.request(method, path, body, {
            "Cookie": cookies, "Content-Type": content,
            "X-CSRFToken": self.cookies.get("csrftoken", "")})
        answer = connection.getresponse()
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                cookie, _, rest = value.partition("=")
                self.cookies[cookie.strip()] = rest.partition(";")[0]
        return answer.status, answer.read()

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        """What the API answers, which is no refusal."""
        status, text = self.send(method, path, None if body is None else json.dumps(body).encode(),
                                 "application/json")
        assert status < 300, (path, status, text)
        return json.loads(text) if path.startswith("/api/") and text else text


class Service(NamedTuple):
    """nginx's port, those of the applications behind it, and their processes."""

    front: int
    ports: list[int]
    processes: list[int]


@pytest.fixture
def service(transactional_db: None, tmp_path: Path) -> Iterator[Service]:
    """nginx before two applications."""
    db = settings.DATABASES["default"]
    url = "postgres://{USER}:{PASSWORD}@{HOST}:{PORT}/{NAME}".format(**db)
    env = application_env(url) | {"PROXIES": "1", "WORKERS": "1", "LOG_JSON": "1"}
    manage(env, "prepare")
    ports, processes = [], []
    with ExitStack() as running:
        for _ in range(2):
            ports.append(database.free_port())
            processes.append(running.enter_context(served(listen(ports[-1]), env)).pid)
        front, _ = running.enter_context(nginx_before(ports, tmp_path))
        yield Service(front, ports, processes)


def test_two_musicians_over_two_processes_one_of_which_is_killed(
        service: Service) -> None:
    visitors = [Visitor(service.front) for _ in range(2)]
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
            os.killpg(service.processes[0], signal.SIGKILL)
    for visitor, place in zip(visitors, places, strict=True):
        undone = 0
        while True:
            state = visitor.ask("POST", f"/api/patterns/{place['pattern']}/undo", {
                "revision": place["revision"], "end": 4, "key": str(uuid4())})
            if state["revision"] == place["revision"]:
                break
            place["revision"], undone = state["revision"], undone + 1
        assert undone == 13, "twelve velocities and the lane: none lost, none stored twice"


def test_each_way_in_takes_as_much_as_it_promises_and_refuses_more_in_a_sentence(
        service: Service) -> None:
    sounds = [recording(seconds=59.4, hertz=200 + 10 * i) for i in range(12)]
    assert all(MOST_SOUND - 10_000 < len(sound) < MOST_SOUND for sound in sounds)
    song = Path("tests/core/files/music21.mid").read_bytes()
    archive = io.BytesIO()
    with ZipFile(archive, "w") as files:
        files.writestr("pieces.json", json.dumps({"name": "Boiler", "version": 1, "patterns": [
            {"name": "Idle", "recipe": {"lanes": []}}]}))
        for sound in sounds:
            files.writestr(f"sounds/{digest(sound)}", sound)
        files.writestr("cover", bytes(64 * MIB - archive.tell() - 2000))
    pieces = archive.getvalue()
    assert 64 * MIB - 2000 < len(pieces) <= 64 * MIB

    def padded(data: bytes, size: int) -> bytes:
        """A MIDI file of this size: chunks that a reader does not know are passed over."""
        rest = size - len(data) - 8
        return data + b"JUNK" + rest.to_bytes(4, "big") + bytes(rest)

    for port in (service.front, service.ports[0]):
        visitor = Visitor(port)
        visitor.ask("GET", "/")
        visitor.ask("POST", "/api/accounts", {"username": f"carrier{port}",
                                              "password": "a-warm-greenhouse-9"})

        def sent(status: int, method: str, path: str, body: bytes,
                 content: str = "application/octet-stream") -> str:
            found, text = visitor.send(method, path, body, content)  # noqa: B023
            assert found == status, (path, len(body), text[:200])
            return str(json.loads(text)["detail"]) if status >= 400 else ""

        sent(200, "PUT", f"/api/sounds/{digest(sounds[0])}", sounds[0])
        larger = sounds[0] + bytes(MOST_SOUND)
        assert sent(422, "PUT", f"/api/sounds/{digest(larger)}", larger).startswith(
            "A sound takes up to 5 MB")
        sent(200, "POST", "/api/midi/look", padded(song, MOST_MIDI), "audio/midi")
        assert "8 MB" in sent(422, "POST", "/api/midi/look", padded(song, MOST_MIDI + 1),
                              "audio/midi")
        sent(200, "POST", f"/api/piece-files?key={uuid4()}", pieces)
        assert "64 MB" in sent(422, "POST", f"/api/piece-files?key={uuid4()}",
                               pieces + bytes(64 * MIB + 1 - len(pieces)))
        assert "2 MB" in sent(413, "POST", "/api/pieces", b" " * (3 * MIB), "application/json")


def test_after_an_answer_to_head_comes_the_next_one(service: Service) -> None:
    for port in (service.front, service.ports[0]):
        with socket.create_connection(("127.0.0.1", port), 20) as line:
            line.sendall(b"HEAD / HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n"
                         b"GET /api/health HTTP/1.1\r\nHost: 127.0.0.1\r\n"
                         b"Connection: close\r\n\r\n")
            received = b"".join(iter(lambda: line.recv(2**16), b""))
        head, _, rest = received.partition(b"\r\n\r\n")
        assert head.startswith(b"HTTP/1.1 200") and b"<html" not in received
        assert rest == b"" or rest.startswith(b"HTTP/1.1 200")


def test_who_runs_the_service_sees_figures_and_a_line_for_each_request(service: Service) -> None:
    def get(port: int, path: str, **headers: str) -> tuple[int, str, str]:
        connection = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
        connection.request("GET", path, headers=headers)
        answer = connection.getresponse()
        return answer.status, answer.headers.get("X-Request-Id", ""), answer.read().decode()

    for port, headers in ((service.front, {}), (service.ports[0], {"X-Forwarded-For": "10.0.0.1"})):
        assert get(port, "/metrics", **headers)[0] == 404, "from outside"
    for path in ("/api/pieces/12", "/api/pieces/13", "/nowhere"):
        status, request, _ = get(service.ports[0], path)
    assert status == 200, "the page"
    status, _, text = get(service.ports[0], "/metrics", Host="whatever.example")
    found = {(each.name, *each.labels.values()): each.value for family in
             text_string_to_metric_families(text) for each in family.samples}
    operation = "GET /api/pieces/<piece_id>"
    assert found["jolly_requests_total", operation, "401"] == 2
    assert found["jolly_request_seconds_count", operation] == 2
    assert found["jolly_workers",] == found["jolly_database_up",] == 1
    assert found["jolly_database_connections",] >= 1
    lines = [json.loads(line) for line in SERVER_LOG.read_text().splitlines() if request in line]
    assert [(line["request"], line["operation"], line["status"]) for line in lines] == [
        (request, "GET the page", 200)]
