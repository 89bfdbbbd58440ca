"""List every text that a user meets: labels, names, tooltips, menus, placeholders, options.

Run ``python docs/list_labels.py`` after a change of words, and read the list as someone who has
never seen the program.
"""

from __future__ import annotations

from collections.abc import Iterator

from demo_window import dialogs, empty_window, open_demo, settle
from PySide6.QtWidgets import QComboBox, QLineEdit, QMenu, QWidget

from zinc_margin.commands.help_text import every_parser
from zinc_margin.commands.program import program_parser
from zinc_margin.docket.docket import LINES


def texts(part: QWidget) -> Iterator[tuple[str, str]]:
    """Yield the kinds and texts of a widget and all inside it."""
    for menu in part.findChildren(QMenu):
        menu.aboutToShow.emit()
    for each in (part, *part.findChildren(QWidget)):
        shown = each.text() if hasattr(each, "text") and callable(each.text) else ""
        if not isinstance(each, QLineEdit):
            yield "label", str(shown)
        else:
            yield "placeholder", each.placeholderText()
        yield "name", each.accessibleName()
        yield "tooltip", each.toolTip()
        if isinstance(each, QComboBox):
            for at in range(each.count()):
                yield "choice", each.itemText(at)
        if isinstance(each, QMenu):
            for action in each.actions():
                yield "menu", action.text().split("\t")[0]


def window_texts() -> Iterator[tuple[str, str, str]]:
    """Yield place, kind and text for every view of the window and its dialogs."""
    window = empty_window()
    yield from (("empty window", *each) for each in texts(window))
    open_demo(window)
    for line in LINES:
        window.table.open_line(line)
        settle(window)
        yield from ((line, *each) for each in texts(window))
    for dialog in dialogs(window):
        yield from ((dialog.windowTitle(), *each) for each in texts(dialog))
    window.end()


def option_texts() -> Iterator[tuple[str, str, str]]:
    """Yield command, kind and text for every option of the command line."""
    for parser in every_parser(program_parser()):
        for each in parser._actions:
            words = ", ".join(each.option_strings) or str(each.metavar or each.dest)
            yield parser.prog, "option", f"{words}: {each.help}"


def main() -> None:
    """Print every text once, with its first place."""
    seen: set[tuple[str, str]] = set()
    for place, kind, text in (*window_texts(), *option_texts()):
        if text.strip() and (kind, text) not in seen:
            seen.add((kind, text))
            print(f"{place}\t{kind}\t{text}".replace("\n", " / "))


if __name__ == "__main__":
    main()
