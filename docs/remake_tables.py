"""Remakes the tables that come of the docket's fields: those of json.md and of the manual page.

python docs/remake_tables.py            writes them
python docs/remake_tables.py --check    says which are stale, for lint
"""

from __future__ import annotations

import sys
from pathlib import Path

from zinc_margin.commands.options import WIDE
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
    rows = ["| line | field | holds | usual | |", "|---|---|---|---|---|"]
    for line, fields in FIELDS.items():
        rows += [row(line, name, said) for name, said in fields.items()]
    return rows


def note_list() -> list[str]:
    """Return the codes of all notes."""
    return ["Note codes: " + ", ".join(f"`{code}`" for code in NOTE_CODES) + "."]


def escaped(text: str) -> str:
    """Return a text as the manual page has it."""
    return text.replace("\\", "\\e").replace("-", "\\-").replace("'", "\\(aq")


def manual_options() -> list[str]:
    """Return the options of `plan` and `make`, line after line, as the manual page has them."""
    rows = [".SH OPTIONS OF plan AND make"]
    for line, fields in FIELDS.items():
        rows += [f".SS {LINES[line].title}"]
        for wide in WIDE:
            if wide.line == line:
                rows += [".TP", entry(wide.flag, wide.metavar), escaped(wide.help)]
        for said in fields.values():
            option = said.option
            if option is None:
                continue
            words = option.words or said.kind.words
            metavar = "" if option.sets is not None else option.metavar or said.kind.metavar
            if words and option.sets is None:
                metavar = "|".join(words)
            rows += [".TP", entry(option.flag, metavar), escaped(option.help or said.meaning)]
    return rows


def entry(flag: str, metavar: str) -> str:
    """Return an option's head."""
    shown = f".B \\-\\-{escaped(flag)}"
    return f"{shown} \\fI{escaped(metavar)}" if metavar else shown


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
    return {JSON: json_text, MANUAL: between(manual, begin, end, manual_options())}


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
