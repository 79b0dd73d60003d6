"""Many musicians at once; run by ./jolly bench load.

Each turns a word four times a second for two seconds, stores the edit, and pauses for some; a pass
goes by every two. Every tenth keeps what was heard, grows cuttings and changes a clip as well. Each
works in a piece of their own, a copy of one of the demo's, and comes from an address of their own.
The processor time that each part of the service takes says how many cores more of them would need.
"""

import argparse
import asyncio
import json
import os
import random
import tempfile
import time
from collections import defaultdict
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit
from uuid import uuid4

from ops.database import database, free_port
from ops.front import nginx_before
from ops.serve import HOST, application_env, listen, manage, served

LOOKS_A_SECOND = 4
SECONDS_OF_TURNING = 2.0
SECONDS_OF_PAUSE = 2.0, 4.0
SECONDS_A_PASS = 2.0

took: dict[str, list[float]] = defaultdict(list)
refused: dict[str, int] = defaultdict(int)


class Browser:
    """One connection that is kept, with its cookies."""

    def __init__(self, address: str, number: int = 0) -> None:
        place = urlsplit(address)
        self.own = f"127.1.{number // 200}.{number % 200 + 1}"
        self.host, self.port = place.hostname or "", place.port or 80
        self.cookies: dict[str, str] = {}
        self.reader: asyncio.StreamReader | None = None
        self.writer: asyncio.StreamWriter | None = None

    async def ask(self, method: str, path: str, body: Any = None, kind: str = "") -> Any:
        """What the API answers; its time is written down under `kind`."""
        if (self.reader is None or self.writer is None or self.writer.is_closing()
                or self.reader.at_eof()):  # the server has closed what was idle
            self.reader, self.writer = await asyncio.open_connection(
                self.host, self.port, local_addr=(self.own, 0))
        content = b"" if body is None else json.dumps(body).encode()
        cookies = "; ".join(f"{name}={value}" for name, value in self.cookies.items())
        begin = time.perf_counter()
        self.writer.write((f"{method} {path} HTTP/1.1\r\nHost: {self.host}\r\nCookie: {cookies}\r\n"
                           f"X-CSRFToken: {self.cookies.get('csrftoken', '')}\r\n"
                           "Content-Type: application/json\r\n"
                           f"Content-Length: {len(content)}\r\n\r\n").encode() + content)
        head = (await self.reader.readuntil(b"\r\n\r\n")).decode().split("\r\n")
        length = 0
        for line in head[1:]:
            name, _, value = line.partition(": ")
            if name.lower() == "content-length":
                length = int(value)
            elif name.lower() == "set-cookie":
                key, _, rest = value.strip().partition("=")
                self.cookies[key] = rest.partition(";")[0]
            elif (name.lower(), value.lower()) == ("connection", "close"):
                self.writer.close()
        answer = await self.reader.readexactly(length)
        status = int(head[0].split()[1])
        if kind:
            took[kind].append((time.perf_counter() - begin) * 1000)
            if status >= 300:
                refused[f"{kind} {status}"] += 1
        return json.loads(answer) if path.startswith("/api") and answer and status < 500 else None


class Musician:
    """Somebody at work on a copy of a piece of the demo."""

    def __init__(self, address: str, number: int) -> None:
        self.browser, self.number = Browser(address, number), number
        self.lock = asyncio.Lock()
        self.have: list[str] = []

    async def open(self, cookies: dict[str, str], pieces: list[Any]) -> None:
        """Open a copy of a piece."""
        self.browser.cookies = dict(cookies)
        source = pieces[self.number % len(pieces)]["id"]
        copy = await self.browser.ask("POST", f"/api/pieces/{source}/duplicate", {})
        self.piece, self.pattern = copy["id"], copy["patterns"][self.number % 2]["id"]
        state = await self._state()
        self.lane = next(lane["id"] for lane in state["view"]["lanes"])
        self.frame = state["view"]["frame_beats"]

    async def _state(self) -> Any:
        state = await self.browser.ask("POST", f"/api/patterns/{self.pattern}/state",
                                       {"start": 0, "end": 16, "chosen": None})
        self.revision = state["revision"]
        return state

    async def work(self, until: float) -> None:
        """Turn words, and let passes go by."""
        await asyncio.gather(self._turn(until), self._listen(until))

    async def _turn(self, until: float) -> None:
        await asyncio.sleep(random.random() * (SECONDS_OF_TURNING + SECONDS_OF_PAUSE[0]))
        while time.monotonic() < until:
            begin = time.monotonic()
            value = random.randint(20, 200)
            for n in range(round(SECONDS_OF_TURNING * LOOKS_A_SECOND)):
                edits = [{"do": "set", "lane": self.lane, "slot": "gate", "value": value + n}]
                wanted = {"revision": self.revision, "edits": edits, "start": 0, "end": 16,
                          "chosen": self.lane, "have": self.have}
                seen = await self._locked("POST", f"/api/patterns/{self.pattern}/look", wanted,
                                          "look")
                self.have = self.have or list(seen["parts"])
                await asyncio.sleep(max(0, begin + (n + 1) / LOOKS_A_SECOND - time.monotonic()))
            state = await self._locked("POST", f"/api/patterns/{self.pattern}/edits",
                                       wanted | {"key": str(uuid4())}, "edit")
            self.revision = state.get("revision", self.revision)
            if self.number % 10 == 0:
                await self._more()
            await asyncio.sleep(random.uniform(*SECONDS_OF_PAUSE))

    async def _more(self) -> None:
        """What is done less often."""
        kept = await self._locked("POST", f"/api/patterns/{self.pattern}/keep", {
            "revision": self.revision, "bars": 4, "key": str(uuid4())}, "keep")
        await self._locked("POST", f"/api/patterns/{self.pattern}/cuttings", {
            "revision": self.revision, "wish": {"count": 100}}, "cuttings")
        clip = await self._locked("GET", f"/api/clips/{kept['id']}/state", None, "clip")
        await self._locked("POST", f"/api/clips/{kept['id']}/edits", {
            "revision": clip["revision"], "key": str(uuid4()), "edits": [
                {"do": "louden_notes", "notes": [0, 1, 2], "by": 1}]}, "clip")

    async def _listen(self, until: float) -> None:
        await asyncio.sleep(random.random() * SECONDS_A_PASS)
        number = 0
        while time.monotonic() < until:
            begin, at = time.monotonic(), number * self.frame
            await self._locked("POST", f"/api/patterns/{self.pattern}/trail", {
                "key": str(uuid4()), "number": number, "start": at, "beats": self.frame,
                "segments": [{"revision": self.revision, "at": at, "start": at,
                              "end": at + self.frame}]}, "pass")
            number += 1
            await asyncio.sleep(max(0, begin + SECONDS_A_PASS - time.monotonic()))

    async def _locked(self, *call: Any) -> Any:
        """One call at a time on the connection."""
        async with self.lock:
            return await self.browser.ask(*call)


@contextmanager
def service(hosts: int) -> Iterator[tuple[str, dict[str, int]]]:
    """The address of the application, and the process of each of its parts: as ./jolly demo serves
    it, or nginx before so many `hosts`, each of which is a server with one process."""
    with ExitStack() as running:
        url, cluster = running.enter_context(database())
        env = application_env(url) | ({"PROXIES": "1", "WORKERS": "1"} if hosts else {})
        manage(env, "prepare")
        ports = [free_port() for _ in range(hosts or 1)]
        parts = {f"application {number + 1}": running.enter_context(served(listen(port), env)).pid
                 for number, port in enumerate(ports)}
        if cluster is not None:
            parts["PostgreSQL"] = cluster.process
        port = ports[0]
        if hosts:
            folder = Path(running.enter_context(tempfile.TemporaryDirectory()))
            port, parts["nginx"] = running.enter_context(nginx_before(ports, folder))
        yield f"http://{HOST}:{port}/", parts


def processor_seconds(process: int) -> float:
    """Of a process and of all that it has started, ended ones included."""
    ticks, children = {}, defaultdict(list)
    for each in Path("/proc").glob("[0-9]*/stat"):
        try:
            fields = each.read_text().rpartition(")")[2].split()
        except OSError:  # it has ended
            continue
        number = int(each.parent.name)
        ticks[number] = sum(map(int, fields[11:15]))
        children[int(fields[1])].append(number)
    total, found = 0, [process]
    while found:
        number = found.pop()
        total += ticks.get(number, 0)
        found += children[number]
    return total / os.sysconf("SC_CLK_TCK")


async def play(address: str, seconds: float, count: int, parts: dict[str, int]) -> None:
    """Let all of them work for so long, and print what they saw and what it took."""
    door = Browser(address)
    await door.ask("GET", "/")
    await door.ask("POST", "/api/session/demo", {})
    musicians = [Musician(address, number) for number in range(count)]
    pieces = [each for each in await door.ask("GET", "/api/pieces") if "copy" not in each["name"]]
    for each in musicians:
        await each.open(door.cookies, pieces)
    before = {name: processor_seconds(process) for name, process in parts.items()}
    own, began = time.process_time(), time.monotonic()
    await asyncio.gather(*(each.work(began + seconds) for each in musicians))
    spent = {name: processor_seconds(process) - before[name] for name, process in parts.items()}
    spent["the musicians themselves"] = time.process_time() - own
    lasted = time.monotonic() - began
    for each in musicians:
        await door.ask("DELETE", f"/api/pieces/{each.piece}")
    every = sorted(value for times in took.values() for value in times)
    took["all calls"] = every
    goal = "   goal 250"
    for kind, times in took.items():
        times.sort()
        middle, most = times[len(times) // 2], times[int(len(times) * .95)]
        print(f"{count} musicians, {kind:<10} {len(times):6d} calls: "
              f"median {middle:6.1f} ms, 95 % {most:6.1f} ms{goal if kind == 'all calls' else ''}")
    print(f"{len(every) / lasted:.0f} calls a second; refused: {dict(refused) or 'none'}")
    for name, value in spent.items():
        print(f"{name:<25} {value / lasted:5.2f} cores, {1000 * value / len(every):5.2f} ms a call")


def run(options: argparse.Namespace) -> int:
    """Measure so many musicians."""
    with service(options.hosts) as (address, parts):
        asyncio.run(play(address, options.seconds, options.musicians, parts))
    return 0
