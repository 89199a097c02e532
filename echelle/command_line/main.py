"""The command line: echelle read, describe, compare, draw, bundle, schema."""

from __future__ import annotations

import gc
import io
import os
import sys
from importlib import import_module

import click

from echelle import RELEASE
from echelle.errors import InputError

# Nobody's plugins change our models, and looking for them takes as long as a small file.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
COMMANDS = ("read", "describe", "compare", "draw", "bundle", "schema")


class CommandGroup(click.Group):
    """Commands by name, each in the module of that name, which is imported when it is run or its help is asked for."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        """All of them, in the order of the work."""
        return list(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        """The command of that name; None where there is none."""
        if cmd_name not in COMMANDS:
            return None
        # Modules stay: nobody looks for garbage in them, neither while they come nor later.
        gc.disable()
        command = getattr(import_module(f"echelle.command_line.{cmd_name}"), cmd_name)
        gc.freeze()
        gc.enable()
        assert isinstance(command, click.Command)
        return command


app = click.version_option(RELEASE, message="Echelle %(version)s")(
    CommandGroup("echelle", help="Compare a measurement across groups: the numbers and the figure.", no_args_is_help=False)
)


def main() -> None:
    """Run the command line: exit 0, or 2 with one line on stderr for anything wrong with the input."""
    for stream in (sys.stdout, sys.stderr):
        # A terminal that knows few letters gets a mark for the others.
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="replace")
    try:
        code = app(standalone_mode=False)
    except InputError as error:
        code = _refuse(error.sentence())
    except click.ClickException as error:
        code = _refuse(error.format_message())
    except (click.Abort, KeyboardInterrupt):
        code = 130
    except BrokenPipeError:
        code = 0
    sys.exit(code or 0)


def _refuse(sentence: str) -> int:
    print(f"echelle: {' '.join(sentence.split())}", file=sys.stderr)
    return 2
