"""Output to a terminal: characters that it can show, and no hidden commands."""

from __future__ import annotations

import codecs
import io
import sys

from zinc_margin.measure.words import clean

_PLAIN = {
    "×": "x", "–": "-", "—": "-", "−": "-", "…": "...", "“": '"', "”": '"', "’": "'", "·": "*",
    "°": " deg", "µ": "u", "½": " 1/2", "¼": " 1/4", "¾": " 3/4", "⅛": " 1/8", "⅜": " 3/8",
    "⅝": " 5/8", "⅞": " 7/8",
}  # fmt: skip


def _encode_rest(error: UnicodeError) -> tuple[str | bytes, int]:
    """Write what an encoding lacks: bytes of file names as they are, signs in plain letters."""
    if not isinstance(error, UnicodeEncodeError):
        raise error
    char = error.object[error.start]
    if "\udc80" <= char <= "\udcff":
        return bytes([ord(char) - 0xDC00]), error.start + 1
    return _PLAIN.get(char, "?"), error.start + 1


codecs.register_error("zinc-margin", _encode_rest)


class Terminal(io.TextIOWrapper):
    """A stream to a terminal; only `control` can move its cursor."""

    def write(self, text: str) -> int:
        """Write a text, cleaned."""
        return super().write(clean(text))

    def control(self, text: str) -> None:
        """Write text with the program's own control codes."""
        super().write(text)
        self.flush()


def prepare() -> None:
    """Let the standard streams take any name, and clean what goes to a terminal.

    Other programs that read the output get names unchanged, as their bytes.
    """
    for name in ("stdout", "stderr"):
        stream = getattr(sys, name)
        if not isinstance(stream, io.TextIOWrapper) or isinstance(stream, Terminal):
            continue
        if stream.isatty():
            encoding = stream.encoding
            laid = Terminal(stream.detach(), encoding, "zinc-margin", line_buffering=True)
            setattr(sys, name, laid)
        else:
            stream.reconfigure(errors="zinc-margin")


def control(text: str) -> None:
    """Write control codes, such as those of a progress line, to standard error."""
    if isinstance(sys.stderr, Terminal):
        sys.stderr.control(text)
    else:
        sys.stderr.write(text)
        sys.stderr.flush()
