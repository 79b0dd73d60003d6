"""./jolly test, check, bench and shots."""

import argparse
import os
import subprocess
import sys
from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from ops import bench_load
from ops.database import database, free_port
from ops.machine import OPENAPI, ROOT, TEXTS, VENV, WEB, install_web, prepare, prepare_engines, say
from ops.serve import application_env, demo_server, listen

SCHEMAS = {ROOT / "docs" / "recipe.schema.json": [], ROOT / "docs" / "clip.schema.json": ["--clip"],
           ROOT / "docs" / "piece.schema.json": ["--piece"]}
AT_ONCE = 2
"""So many checks run beside each other."""


def _tool(name: str) -> str:
    return str(VENV / "bin" / name)


def _passes(title: str, command: list[str], cwd: Path = ROOT,
            env: Mapping[str, str] | None = None) -> bool:
    done = subprocess.run(command, check=False, cwd=cwd, env=env, capture_output=True, text=True)
    told = "" if done.returncode == 0 else f"{done.stdout}{done.stderr}\n"
    print(f"{'FAIL' if told else 'ok  '} {title}\n{told}", end="", flush=True)
    return not told


def test(options: argparse.Namespace) -> int:
    """Run the tests that are named, or all: the core's by themselves beside those that need no
    browser, the page's own, then those in a browser, two at a time, since they mostly wait."""
    prepare(testing=True)
    named = options.arguments
    if options.engines:
        prepare_engines()
        named = ["tests/engines", *named]
    with database() as (url, _):
        def run(*arguments: str) -> int:
            return subprocess.run([_tool("pytest"), *arguments], check=False, cwd=ROOT,
                                  env=application_env(url)).returncode

        if named:
            return run(*named)
        with subprocess.Popen([_tool("pytest"), "-n", "2"], cwd=ROOT / "core", text=True,
                              stdout=subprocess.PIPE, stderr=subprocess.STDOUT) as core:
            served = run("tests/ops", "tests/api")
            told, _ = core.communicate()
        print(f"The core by itself:\n{told}", flush=True)
        units = subprocess.run(["npm", "run", "-s", "units"], check=False, cwd=WEB,
                               env=install_web()).returncode
        return served or core.returncode or units or run("-n", "2", "tests/browser")


def check(options: argparse.Namespace) -> int:
    """Lint and types of all rooms, the deployment check, and the drift of generated files."""
    prepare(testing=True)
    npm = install_web()
    offline = application_env("postgres://nobody@127.0.0.1:1/none")
    production = offline | {"JOLLY_LOCAL": "0", "JOLLY_DEMO": "0",
                            "SECRET_KEY": os.urandom(40).hex()}
    paths = os.pathsep.join(["core", "server", "."])
    server = ROOT / "server"
    with ThreadPoolExecutor(AT_ONCE) as pool:
        results = [pool.submit(_drift), *(pool.submit(_passes, *each) for each in (
            ("mypy, strict", [_tool("mypy")], ROOT, offline | {"PYTHONPATH": paths}),
            ("eslint", ["npm", "run", "-s", "lint"], WEB, npm),
            ("vue-tsc", ["npm", "run", "-s", "types"], WEB, npm),
            ("no circle in the web, and rooms that stand on one another",
             ["npm", "run", "-s", "circles"], WEB, npm),
            ("no circle of imports, and rooms that stand on one another",
             [_tool("lint-imports"), "--no-cache"], ROOT, os.environ | {"PYTHONPATH": paths}),
            ("ruff", [_tool("ruff"), "check", "."]),
            ("settings fit for a public service", [_tool("python"), "manage.py", "check",
             "--deploy", "--fail-level", "WARNING"], server, production),
            ("migrations are complete", [_tool("python"), "-W", "ignore", "manage.py",
             "makemigrations", "--check", "--dry-run"], server, offline)))]
    return 0 if all(result.result() for result in results) else 1


def _generated() -> dict[Path, str]:
    """The files that are made from the code, as they would be made now."""
    env = application_env("postgres://nobody@127.0.0.1:1/none")
    openapi = subprocess.run([_tool("python"), "manage.py", "openapi"], check=True, env=env,
                             cwd=ROOT / "server", capture_output=True, text=True).stdout
    schemas = {path: subprocess.run([_tool("lattice"), "schema", *of], check=True,
                                    capture_output=True, text=True).stdout
               for path, of in SCHEMAS.items()}
    cases = subprocess.run([_tool("python"), "-m", "tests.core.cases"], check=True, cwd=ROOT,
                           capture_output=True, text=True).stdout
    forms = subprocess.run([_tool("lattice"), "read", "--forms"], check=True, capture_output=True,
                           text=True).stdout
    return {OPENAPI: openapi, **schemas, TEXTS: forms, WEB / "testing" / "cases.json": cases}


def _drift() -> bool:
    stale = [path for path, text in _generated().items()
             if not path.exists() or path.read_text() != text]
    print(f"{'FAIL' if stale else 'ok  '} generated files are up to date", flush=True)
    if stale:
        names = ", ".join(str(path.relative_to(ROOT)) for path in stale)
        print(f"{names}: write them anew with ./jolly api")
    return not stale


def write_api(options: argparse.Namespace) -> int:
    """Write the generated files anew."""
    prepare(testing=True)
    for path, text in _generated().items():
        path.write_text(text)
    install_web()
    return 0


def bench(options: argparse.Namespace) -> int:
    """Measure the server in one process, then a browser against the served demo; or how a
    hundred musicians at once fare; what a page holds; or clips and files in the core alone."""
    prepare(testing=True)
    if options.what == "clips":
        return subprocess.run([_tool("python"), str(ROOT / "ops" / "bench_clips.py")], check=False,
                              cwd=ROOT, env=os.environ | {"PYTHONPATH": str(ROOT)}).returncode
    if options.what == "load":
        return bench_load.run(options)
    if options.what == "page":
        return _against_the_demo("bench_page.py", str(options.seconds))
    with database() as (url, _):
        done = subprocess.run([_tool("python"), str(ROOT / "ops" / "bench_server.py")],
                              check=False, cwd=ROOT / "server",
                              env=application_env(url) | {"PYTHONPATH": str(ROOT / "server")})
    if done.returncode:
        return done.returncode
    return _against_the_demo("bench_browser.py", str(options.seconds)) or \
        _against_the_demo("bench_hands.py", str(options.seconds))


def shots(options: argparse.Namespace) -> int:
    """Take the pictures of the main views."""
    prepare(testing=True)
    return _against_the_demo("shots.py")


def _against_the_demo(script: str, *arguments: str) -> int:
    with demo_server(listen(free_port())) as demo:
        say(f"The demo runs at {demo.address} …")
        command = [_tool("python"), str(ROOT / "ops" / script), demo.address, *arguments]
        done = subprocess.run(command,
                              check=False, cwd=ROOT, env=os.environ | {"PYTHONPATH": str(ROOT)},
                              stdout=sys.stdout)
        return done.returncode
