"""nginx before several application processes, as docs/nginx.conf has it, on loopback."""

import getpass
import re
import shutil
import subprocess
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path

from ops.database import free_port
from ops.machine import ROOT
from ops.serve import HOST, answers
from ops.trouble import Trouble

SECONDS_TO_START = 30


@contextmanager
def nginx_before(ports: Sequence[int], folder: Path) -> Iterator[tuple[int, int]]:
    """The port at which nginx answers for the applications at these ports, and its process; what it
    writes goes into `folder`. Trouble if it is not installed, or nothing answers through it."""
    program = shutil.which("nginx") or "/usr/sbin/nginx"
    if not Path(program).exists():
        raise Trouble("nginx is not installed; on Debian: apt-get install nginx-light")
    port = free_port()
    (folder / "nginx.conf").write_text(_written(port, ports, folder))
    nginx = subprocess.Popen([program, "-c", str(folder / "nginx.conf"), "-g",
                              f"daemon off; user {getpass.getuser()};", "-p", str(folder)],
                             stderr=subprocess.DEVNULL)
    try:
        _wait_for(port)
        yield port, nginx.pid
    finally:
        nginx.terminate()
        nginx.wait(10)


def _written(port: int, ports: Sequence[int], folder: Path) -> str:
    """docs/nginx.conf without TLS, for these ports and this folder."""
    given = (ROOT / "docs" / "nginx.conf").read_text()
    upstream = re.search(r"( *server 127\.0\.0\.1):8001(.*\n)", given)
    changes = [("listen 443 ssl;", f"listen {HOST}:{port};"),
               ("/run/nginx.pid", f"{folder}/nginx.pid"),
               ("/var/log/nginx/error.log", f"{folder}/error.log"),
               ("/var/cache/nginx/links", f"{folder}/links"),
               ("http {\n", "http {\n" + "".join(
                   f"  {kind}_temp_path {folder}/{kind};\n"
                   for kind in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")))]
    if upstream is None or any(written not in given for written, _ in changes):
        raise Trouble("docs/nginx.conf is not as ops/front.py expects it.")
    for written, here in changes:
        given = given.replace(written, here)
    begin, end = upstream.groups()
    given = re.sub(r"( *server 127\.0\.0\.1:800\d.*\n)+",
                   "".join(f"{begin}:{each}{end}" for each in ports), given)
    return re.sub(r" *ssl_certificate.*\n", "", given)


def _wait_for(port: int) -> None:
    deadline = time.monotonic() + SECONDS_TO_START
    while time.monotonic() < deadline:
        if answers(port, "/api/health"):
            return
        time.sleep(0.1)
    raise Trouble("Nothing answers through nginx.")
