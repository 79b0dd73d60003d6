"""The subcommands of ./jolly."""

import argparse
import sys
from collections.abc import Callable

from ops import checks, serve
from ops.trouble import Trouble

PORT = 8710


def main() -> int:
    """Run a subcommand; what goes wrong in a foreseeable way is one sentence, and exit code 1."""
    parser = argparse.ArgumentParser(prog="./jolly", description=__doc__)
    commands = parser.add_subparsers(required=True, metavar="command")

    def command(name: str, text: str, run: object) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=text, description=text)
        made.set_defaults(run=run)
        return made

    demo = command("demo", "Start the application with the demo, until Ctrl-C.", serve.demo)
    demo.add_argument("--port", type=int, default=PORT, help=f"the port on 127.0.0.1 ({PORT})")
    test = command("test", "Set up what the tests need and run them all.", checks.test)
    test.add_argument("--engines", action="store_true", help="a small journey in Firefox and in "
                      "WebKit instead, which are installed for it")
    test.add_argument("arguments", nargs=argparse.REMAINDER, help="handed to pytest")
    command("check", "Lint, types, and drift of the API's types.", checks.check)
    command("api", "Write docs/openapi.json, the recipe's schema and the web's types anew.",
            checks.write_api)
    bench = command("bench", "Measure speed, and print figures.", checks.bench)
    bench.add_argument("what", nargs="?", choices=["speed", "load", "page", "clips"],
                       default="speed", help="speed for one musician, the load of many, what a "
                       "page holds on to over time, or clips and files, held against other readers")
    bench.add_argument("--seconds", type=int, default=60, help="how long to play (60)")
    bench.add_argument("--musicians", type=int, default=100, help="of load: how many (100)")
    bench.add_argument("--hosts", type=int, default=0, help="of load: nginx before so many hosts, "
                       "each simulated by one process (0: the application as the demo serves it)")
    command("shots", "Take the pictures in docs/screenshots from the demo.", checks.shots)
    options = parser.parse_args()
    try:
        run: Callable[[argparse.Namespace], int] = options.run
        return run(options)
    except Trouble as trouble:
        print(f"jolly: {trouble}", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        return 130
