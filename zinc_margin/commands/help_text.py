"""Help texts: examples first, common options, and all options on request."""

from __future__ import annotations

import argparse
import re
from collections.abc import Callable, Sequence
from typing import Any, NoReturn

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.tables import table

_TABLE = table("commands")
COMMON = frozenset(_TABLE["common"])
"""Options in `make --help`; `--help all` shows the others."""
_RARE = frozenset(_TABLE["rare"])
_MANY = 40
"""A command with more options than this shows only the common ones at first."""
EXAMPLES: dict[str, list[str]] = {
    "": _TABLE["examples"],
    **{key: one["examples"] for key, one in _TABLE["commands"].items() if "examples" in one},
}


class Parser(argparse.ArgumentParser):
    """A parser without abbreviations, whose help begins with examples.

    Parameters
    ----------
    later : callable, optional
        Declares its options, on first use.
    """

    def __init__(
        self, *args: Any, later: Callable[[Parser], None] | None = None, **known: Any
    ) -> None:
        known |= {"allow_abbrev": False, "add_help": False}
        known.setdefault("formatter_class", _wide)
        super().__init__(*args, **known)
        self.everything = False
        self._later = later
        self.add_argument(
            "-h",
            "--help",
            nargs="?",
            const="",
            choices=("", "all"),
            metavar="all",
            action=_Help,
            default=argparse.SUPPRESS,
            help="show this help; all: every option",
        )

    def declared(self) -> Parser:
        """Return the parser with all its options."""
        later, self._later = self._later, None
        if later is not None:
            later(self)
        return self

    def parse_known_args(self, args: Any = None, namespace: Any = None) -> Any:
        """Parse a command line, as in every parser."""
        self.declared()
        return super().parse_known_args(args, namespace)

    def error(self, message: str) -> NoReturn:
        """Report an invalid command line."""
        said = f"{message[:1].upper()}{message[1:]}"
        raise BadRequest(f"{said}{self._owners(message)}; see {self.prog} --help.")

    def _owners(self, message: str) -> str:
        """Name the commands that have an option which this one refuses."""
        found = re.match(r"unrecognized arguments: .*?(--[\w-]+)", message)
        if found is None:
            return ""
        named = [one.name for one in every_parser(self) if found[1] in one._option_string_actions]
        if not named:
            return f". No command has {found[1]}"
        return f". {found[1]} is an option of {', '.join(named)}"

    @property
    def name(self) -> str:
        """The command's name; empty for the program."""
        return self.prog.partition(" ")[2]

    @property
    def options(self) -> list[argparse.Action]:
        """Every option."""
        return [action for action in self._actions if action.option_strings]

    def format_help(self) -> str:
        """Return the help: examples, purpose and options."""
        shown = self.options
        many = len(shown) > _MANY and not self.everything
        hidden = [one for one in shown if many and self._is_rare(one)]
        before = [one.help for one in hidden]
        for one in hidden:
            one.help = argparse.SUPPRESS
        self.usage = self._short_usage()
        try:
            text = super().format_help()
        finally:
            for one, told in zip(hidden, before, strict=True):
                one.help = told
        examples = "".join(f"  {line}\n" for line in EXAMPLES.get(self.name, ()))
        head = f"examples:\n{examples}\n" if examples else ""
        tail = f"\n{len(hidden)} more options: {self.prog} --help all\n" if hidden else ""
        return head + text + tail

    def _is_rare(self, option: argparse.Action) -> bool:
        """Return whether only `--help all` shows an option; never a command's own ones."""
        of_lines = option not in self._optionals._group_actions
        return not COMMON.intersection(option.option_strings) and (
            of_lines or not _RARE.isdisjoint(option.option_strings)
        )

    def _short_usage(self) -> str:
        asked = [
            f"{one.option_strings[-1]} {one.metavar or one.dest.upper()}"
            for one in self.options
            if one.required
        ]
        places = [
            str(one.metavar or one.dest.upper())
            for one in self._actions
            if not one.option_strings and one.metavar is not argparse.SUPPRESS
        ]
        return " ".join((self.prog, *places, *asked, "[options]")).replace("%", "%%")


class _Help(argparse.Action):
    def __call__(
        self,
        parser: argparse.ArgumentParser,
        namespace: object,
        values: object,
        option_string: str | None = None,
    ) -> None:
        if isinstance(parser, Parser):
            parser.everything = values == "all"
        parser.print_help()
        parser.exit()


def _wide(prog: str) -> argparse.HelpFormatter:
    return argparse.RawDescriptionHelpFormatter(prog, max_help_position=30, width=100)


def completion_code(shell: str) -> str:
    """Return the script that completes the program's options in a shell.

    Parameters
    ----------
    shell : str
        ``bash``, ``zsh`` or ``fish``.
    """
    import argcomplete

    return str(argcomplete.shellcode(["zinc-margin"], shell=shell))


def complete(make_parser: Callable[[], argparse.ArgumentParser]) -> None:
    """Answer a shell that requests completions; otherwise do nothing."""
    import argcomplete

    parser = make_parser()
    every_parser(parser)  # including all their options
    argcomplete.autocomplete(parser, always_complete_options="long")


def declare_completion(parser: argparse.ArgumentParser) -> None:
    """Declare the command `completion`."""
    parser.add_argument(
        "shell",
        choices=("bash", "zsh", "fish"),
        metavar="bash|zsh|fish",
        help="the shell to complete for",
    )
    parser.set_defaults(run=_completion)


def _completion(options: argparse.Namespace) -> int:
    print(completion_code(options.shell), end="")
    return 0


def every_parser(parser: argparse.ArgumentParser) -> Sequence[Parser]:
    """Return the program's parser and those of its commands, with all their options."""
    result = [parser]
    for action in parser._actions:
        if isinstance(action, argparse._SubParsersAction):
            result += list(action.choices.values())
    return [one.declared() for one in result if isinstance(one, Parser)]
