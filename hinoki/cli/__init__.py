"""The command line. Each command is a module of its own, imported only when it is asked for."""

import argparse
import sys
from collections.abc import Sequence
from importlib import import_module

from hinoki import __version__

COMMANDS = {
    "make": ("make", "divide a model into joined, printable pieces"),
    "inspect": ("inspect", "size, volume, state of the surface and findings of a model file"),
    "repair": ("repair", "make a surface right by the mildest means that do it"),
    "propose": ("propose", "three divisions of a model that fit the printer, with their figures"),
    "ladder": ("ladder", "small test pieces of a joint at stepped clearances"),
    "orient": ("orient", "the best ways to lay one model file while it prints"),
    "assemble": ("assemble", "plan the assembly of meshes that are placed as assembled"),
    "ask": ("ask", "whatever the application can be asked about a model, by the operation's name"),
    "serve": ("serve", "start the application"),
    "demo": ("demo", "start the application with the demo project"),
    "backup": ("backup", "copy the database into one file, safe while running"),
    "restore": ("restore", "take everything back from a backup; what is there now is replaced"),
}
"""a command's module in this package and its one line of help; the module's `declare` adds what it takes"""


def main(arguments: Sequence[str] | None = None) -> int:
    """Run a command; gives the exit code: 0 good, 1 something must be fixed, 2 unusable input."""
    given = list(sys.argv[1:] if arguments is None else arguments)
    if given[:1] == ["--print-completion"]:
        return _print_completion(given[1:])
    options = _parser(given).parse_args(given)
    from hinoki.core.errors import HinokiError

    try:
        code: int = options.run(options)
    except HinokiError as error:
        where = f" ({error.where})" if error.where else ""
        print(f"hinoki: {error.message}{where}", file=sys.stderr)
        return 2
    except OSError as error:
        print(f"hinoki: {error.strerror}: {error.filename}", file=sys.stderr)
        return 2
    return code


def _print_completion(given: Sequence[str]) -> int:
    """A script by which a shell completes commands and what they take."""
    import shtab

    shell = given[0] if given else ""
    if shell not in shtab.SUPPORTED_SHELLS:
        print(f"hinoki: --print-completion needs one of {', '.join(shtab.SUPPORTED_SHELLS)}", file=sys.stderr)
        return 2
    print(shtab.complete(whole_parser(), shell=shell))
    return 0


def whole_parser() -> argparse.ArgumentParser:
    """A parser that knows every command and what it takes: for completion and the manual page."""
    return _parser([], whole=True)


def _parser(given: Sequence[str], whole: bool = False) -> argparse.ArgumentParser:
    """A parser that knows every command by name, and what the one asked for takes; with `whole` what all of them take."""
    parser = argparse.ArgumentParser(prog="hinoki", description="Divide, join and lay out models for printing.")
    parser.add_argument("--version", action="version", version=f"hinoki {__version__}")
    parser.add_argument("--print-completion", metavar="SHELL", help="a script that completes commands: bash, zsh or tcsh")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    wanted = next((word for word in given if not word.startswith("-")), None)
    for name, (module, text) in COMMANDS.items():
        command = commands.add_parser(name, help=text)
        if name == wanted or whole:
            import_module(f"hinoki.cli.{module}").declare(command)
    return parser
