"""Starting: what goes wrong in a foreseeable way is one sentence; what was started is ended."""

import http.client
import os
import re
import select
import shutil
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import psycopg
import pytest

from ops import database, machine
from ops.serve import MOST_LOG, bound, listen
from ops.trouble import Trouble


def test_a_port_that_is_taken_or_out_of_range() -> None:
    port = database.free_port()
    with listen(port), pytest.raises(Trouble, match=f"Port {port} is in use; .* {port + 10}"):
        listen(port)
    for wrong in (0, 80, 65536, -1):
        with pytest.raises(Trouble, match="A port goes from 1024 to 65535"):
            listen(wrong)


def test_a_data_folder_that_cannot_be_written_or_is_full(
        tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (tmp_path / "file").touch()
    monkeypatch.setattr(machine, "DATA", tmp_path / "file" / "data")
    with pytest.raises(Trouble, match=r"cannot be written \(.+\); make room or make it writable"):
        machine.check_data_folder()
    monkeypatch.setattr(machine, "DATA", tmp_path)
    machine.check_data_folder()
    monkeypatch.setattr(shutil, "disk_usage", lambda path: shutil._ntuple_diskusage(9, 8, 2**20))
    with pytest.raises(Trouble, match="Only 1 MB are left"):
        machine.check_data_folder()


def test_packages_that_may_not_be_installed(monkeypatch: pytest.MonkeyPatch) -> None:
    machine.install_packages({"here": str(Path(sys.executable))})
    wanted = {"midicsv": "/nowhere/midicsv", "chromium": "/nowhere/chromium"}
    monkeypatch.setattr(os, "geteuid", lambda: 1000)
    found = {"apt-get": "/usr/bin/apt-get"}
    monkeypatch.setattr(shutil, "which", found.get)
    with pytest.raises(Trouble, match="sudo sh -c 'apt-get update && apt-get install -y "
                       "--no-install-recommends chromium midicsv'"):
        machine.install_packages(wanted)
    found.clear()
    with pytest.raises(Trouble, match="Install chromium, midicsv with this machine's package"):
        machine.install_packages(wanted)


def test_another_installation_is_waited_for(
        tmp_path: Path, monkeypatch: pytest.MonkeyPatch,
        capsys: pytest.CaptureFixture[str]) -> None:
    locked = ["sh", "-c", f"cd {tmp_path}; echo >> asked; test $(wc -l < asked) -gt 2 || "
              "{ echo 'E: Could not get lock /var/lib/apt/lists/lock.'; exit 100; }"]
    monkeypatch.setattr(machine, "LOG", tmp_path / "setup.log")
    monkeypatch.setattr(machine, "ROOT", tmp_path)
    monkeypatch.setattr(machine, "LOOK_AGAIN", 0.01)
    machine._unlocked(locked, "")
    assert capsys.readouterr().err.count("Another installation is under way") == 2
    with pytest.raises(Trouble, match="It broke"):
        machine._unlocked(["sh", "-c", "exit 100"], "It broke.")


def test_what_was_half_made_is_made_anew(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """An environment without its stamp is finished; secrets that cannot be read are made again."""
    monkeypatch.setattr(machine, "VENV", tmp_path / "venv")
    ran: list[list[str]] = []

    def run(command: list[str], *more: object) -> None:
        ran.append(command)
        (tmp_path / "venv").mkdir(exist_ok=True)

    monkeypatch.setattr(machine, "_logged", run)
    (tmp_path / "venv" / "bin").mkdir(parents=True)
    machine.make_environment("run")
    assert [command[1:3] for command in ran] == [["-m", "venv"], ["install", "-q"]]
    ran.clear()
    machine.make_environment("run")
    assert ran == [], "finished: nothing is done again"
    monkeypatch.setattr(machine, "DATA", tmp_path)
    (tmp_path / "secrets.json").write_text("{")
    made = machine.secrets()
    assert machine.secrets() == made and len(made["django"]) == 64
    assert (tmp_path / "secrets.json").stat().st_mode & 0o077 == 0


@pytest.fixture
def own_data(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    """A data folder of its own, for a database server of its own."""
    monkeypatch.delenv("DATABASE_URL", raising=False)
    for module in (machine, database):
        monkeypatch.setattr(module, "DATA", tmp_path)
    yield tmp_path


def test_a_database_is_made_shared_and_ended(own_data: Path) -> None:
    home = database.Cluster().home
    (home / "pg").mkdir()
    if os.geteuid() == 0:
        shutil.chown(home / "pg", database.SERVER_USER)
    try:
        with database.database() as (url, _):
            assert list(home.glob("pg.half-made-*")), "what an earlier start left is set aside"
            with database.database() as (again, _):
                assert again == url, "a second start finds the server running"
            with psycopg.connect(url) as connection:
                assert connection.execute("SELECT 6 * 7").fetchone() == (42,)
                listens = connection.execute("SHOW listen_addresses").fetchone()
                assert listens == ("127.0.0.1",)
        with pytest.raises(psycopg.OperationalError):
            psycopg.connect(url, connect_timeout=2)
    finally:
        if not home.is_relative_to(own_data):
            shutil.rmtree(home)


def wait_for(process: subprocess.Popen[str], text: str, seconds: float) -> str:
    """The line of output that holds this text."""
    assert process.stdout
    deadline, line = time.monotonic() + seconds, ""
    while time.monotonic() < deadline:
        if select.select([process.stdout], [], [], 0.2)[0]:
            line = process.stdout.readline()
            if text in line:
                return line
            assert line, "it ended"
    raise AssertionError(f"nothing said {text}")


@contextmanager
def started(port: int) -> Iterator[subprocess.Popen[str]]:
    """The demo at a port, as a terminal starts it, whatever the tests themselves run under."""
    environment: dict[str, Any] = {name: value for name, value in os.environ.items()
                                   if name not in ("DATABASE_URL", "DJANGO_SETTINGS_MODULE")}
    demo = subprocess.Popen(
        ["env", "--default-signal=HUP", sys.executable, "jolly", "demo", "--port", str(port)],
        cwd=machine.ROOT, text=True,
        env=environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, start_new_session=True)
    try:
        line = wait_for(demo, "Jolly Lattice is at", 180)
        assert line == f"Jolly Lattice is at http://127.0.0.1:{port}/ (Ctrl-C ends it)\n"
        yield demo
    finally:
        if demo.poll() is None:
            os.killpg(demo.pid, signal.SIGKILL)


def children(parent: int, command: str) -> list[int]:
    """The processes that this one started which run a command."""
    found = []
    for entry in Path("/proc").glob("[0-9]*/stat"):
        try:
            status = entry.read_text().rpartition(")")[2].split()
            line = (entry.parent / "cmdline").read_text()
        except OSError:
            continue
        if int(status[1]) == parent and command in line:
            found.append(int(entry.parent.name))
    return found


def session(port: int, patience: float = 5) -> bytes:
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=patience)
    connection.request("GET", "/api/session")
    return connection.getresponse().read()


@pytest.mark.parametrize("ending", [signal.SIGINT, signal.SIGTERM, signal.SIGHUP])
def test_the_demo_starts_and_leaves_nothing_running(ending: int) -> None:
    port = database.free_port()
    with started(port) as demo:
        assert b'"demo": true' in session(port)
        demo.send_signal(ending)
        assert demo.wait(120) == 0
        with socket.socket() as probe:
            assert probe.connect_ex(("127.0.0.1", port)) != 0


def test_half_sent_requests_a_killed_server_and_a_killed_command_hold_up_nobody() -> None:
    port = database.free_port()
    with started(port) as demo:
        half = [socket.create_connection(("127.0.0.1", port)) for _ in range(24)]
        for i, sender in enumerate(half):
            sender.send(b"POST /api/session HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 99\r\n"
                        + b"\r\nabc" * (i % 2))
        for _ in range(4):
            assert b'"demo": true' in session(port)
        master, = children(demo.pid, "gunicorn")
        workers = children(master, "gunicorn")
        assert len(workers) == len(os.sched_getaffinity(0))
        for worker in workers:
            limits = Path(f"/proc/{worker}/limits").read_text()
            assert re.search(rf"Max address space +{2 * 2**30} ", limits), "none takes it all"
        os.kill(master, signal.SIGKILL)
        deadline = time.monotonic() + 30
        while not set(children(demo.pid, "gunicorn")) - {master} and time.monotonic() < deadline:
            assert b'"demo": true' in session(port, 30), "nobody is turned away meanwhile"
        again, = set(children(demo.pid, "gunicorn")) - {master}
        while not all(map(dead, workers)) or not children(again, "gunicorn"):
            assert time.monotonic() < deadline
        assert b'"demo": true' in session(port, 30)
        demo.kill()
        demo.wait()
    with started(port) as demo:
        assert b'"demo": true' in session(port)
        demo.terminate()
        assert demo.wait(120) == 0


def test_a_database_that_dies_is_started_again(own_data: Path) -> None:
    with database.database() as (url, cluster):
        assert cluster is not None
        with psycopg.connect(url) as connection:
            connection.execute("CREATE TABLE kept AS SELECT 42 AS number")
        cluster.revive()
        killed = cluster.process
        os.kill(killed, signal.SIGKILL)
        deadline = time.monotonic() + 30
        while not dead(killed) and time.monotonic() < deadline:
            time.sleep(0.05)
        cluster.revive()
        with psycopg.connect(url) as connection:
            assert connection.execute("SELECT number FROM kept").fetchone() == (42,)
        home = cluster.home
    if not home.is_relative_to(own_data):
        shutil.rmtree(home)


def dead(pid: int) -> bool:
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] in "ZX"
    except OSError:
        return True


def test_a_log_that_has_grown_begins_anew(tmp_path: Path) -> None:
    log = tmp_path / "server.log"
    with log.open("ab") as writer:
        writer.write(b"x" * (MOST_LOG + 1))
        writer.flush()
        bound(log)
        writer.write(b"then")
    bound(log)
    assert log.read_bytes() == b"then"
    assert (tmp_path / "server.log.1").stat().st_size == MOST_LOG + 1
