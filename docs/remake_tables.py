"""Remakes the tables that come of the docket's fields: those of json.md and of the manual page.

python docs/remake_tables.py            writes them
python docs/remake_tables.py --check    says which are stale, for lint
"""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from zinc_margin.commands.help_text import EXAMPLES, Parser, every_parser
from zinc_margin.commands.options import WIDE
from zinc_margin.commands.program import program_parser
from zinc_margin.docket.docket import FIELDS, LINES
from zinc_margin.docket.document import field_plain
from zinc_margin.docket.fields import Said
from zinc_margin.plan.text.notes import NOTE_CODES

ROOT = Path(__file__).parents[1]
JSON, MANUAL = ROOT / "docs" / "json.md", ROOT / "packaging" / "zinc-margin.1"


def usual(line: str, name: str) -> str:
    """Return a field's usual value as JSON has it."""
    value = field_plain(getattr(LINES[line](), name))
    if value is None:
        return "null"
    return f"`{str(value).lower()}`" if isinstance(value, bool) else f"`{value}`"


def row(line: str, name: str, said: Said) -> str:
    """Return one row of json.md."""
    unit = f" {said.kind.unit}" if said.kind.unit else ""
    null = f"; null: {said.nothing}" if said.nothing else ""
    meaning = said.meaning.replace("|", "\\|")
    told = said.kind.constraint.replace("|", "\\|")
    return f"| `{line}` | `{said.key}` | {told}{unit} | {usual(line, name)} | {meaning}{null} |"


def docket_table() -> list[str]:
    """Return the table of all fields of a docket."""
    rows = ["| line | field | content | default | |", "|---|---|---|---|---|"]
    for line, fields in FIELDS.items():
        rows += [row(line, name, said) for name, said in fields.items()]
    return rows


def note_list() -> list[str]:
    """Return the codes of all notes."""
    return ["Note codes: " + ", ".join(f"`{code}`" for code in NOTE_CODES) + "."]


def escaped(text: str) -> str:
    """Return a text as the manual page has it."""
    return text.replace("\\", "\\e").replace("-", "\\-").replace("'", "\\(aq")


def manual_commands() -> list[str]:
    """Return every command, its examples and its options, as the manual page has them."""
    rows = [".SH COMMANDS"]
    programs = every_parser(program_parser())[1:]
    told = told_of(program_parser())
    for one in programs:
        places = " ".join(str(each.metavar) for each in one._actions if not each.option_strings)
        rows += [".TP", f".B {escaped(one.name)} \\fI{escaped(places)}", escaped(told[one.name])]
    rows += [".SH EXAMPLES", ".nf"]
    rows += [escaped(line) for lines in EXAMPLES.values() for line in lines]
    rows += [".fi", ".SH OPTIONS OF plan, make AND strip"]
    make = next(one for one in programs if one.name == "make")
    shared = set()
    for line, fields in FIELDS.items():
        rows += [f".SS {LINES[line].title}"]
        flags = {f"--{wide.flag.split()[0]}" for wide in WIDE if wide.line == line}
        flags |= {f"--{said.option.flag}" for said in fields.values() if said.option is not None}
        shared |= flags
        for action in make.options:
            if flags & set(action.option_strings):
                rows += option_rows(action)
    rows += [".SS In general"]
    for action in make.options:
        if not shared & set(action.option_strings):
            rows += option_rows(action)
    known = {flag for action in make.options for flag in action.option_strings}
    for one in programs:
        own = [each for each in one.options if not known & set(each.option_strings)]
        if own:
            rows += [f".SH OPTIONS OF {escaped(one.name)}"]
            rows += [row_ for action in own for row_ in option_rows(action)]
    return rows


def told_of(parser: Parser) -> dict[str, str]:
    """Return what each command does, in a few words."""
    choices = next(each for each in parser._actions if isinstance(each, argparse._SubParsersAction))
    return {each.dest: str(each.help) for each in choices._choices_actions}


def option_rows(action: argparse.Action) -> list[str]:
    """Return one option as the manual page has it."""
    metavar = action.metavar or ("|".join(map(str, action.choices)) if action.choices else "")
    if isinstance(metavar, tuple):
        metavar = " ".join(metavar)
    if not metavar and action.nargs != 0:
        metavar = action.dest.upper()
    flags = ", ".join(escaped(flag) for flag in action.option_strings)
    shown = f" \\fI{escaped(metavar)}" if metavar else ""
    return [".TP", f".B {flags}{shown}", escaped((action.help or "").replace("%%", "%"))]


def between(text: str, begin: str, end: str, rows: list[str]) -> str:
    """Return a document with what stands between two marks written anew."""
    before, mark, rest = text.partition(begin)
    _, end_mark, after = rest.partition(end)
    if not mark or not end_mark:
        raise SystemExit(f"the mark {begin or end} is missing")
    return f"{before}{begin}\n" + "\n".join(rows) + f"\n{end}{after}"


def documents() -> dict[Path, str]:
    """Return what each document ought to hold."""
    json_text = JSON.read_text("utf-8")
    for name, rows in (("fields", docket_table()), ("notes", note_list())):
        json_text = between(json_text, f"<!-- {name} -->", f"<!-- /{name} -->", rows)
    manual = MANUAL.read_text("utf-8")
    begin, end = '.\\" options', '.\\" /options'
    return {JSON: json_text, MANUAL: between(manual, begin, end, manual_commands())}


def main() -> int:
    """Write the documents, or tell which are stale."""
    stale = {path: text for path, text in documents().items() if path.read_text("utf-8") != text}
    if "--check" not in sys.argv:
        for path, text in stale.items():
            path.write_text(text, "utf-8")
        return 0
    for path in stale:
        print(f"{path.relative_to(ROOT)} is stale; run: ./zinc tables")
    return 1 if stale else 0


if __name__ == "__main__":
    sys.exit(main())
