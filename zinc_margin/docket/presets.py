"""Presets: decisions without a photo, to apply to any photo or a whole folder."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cache
from pathlib import Path
from typing import Any

from zinc_margin.docket import document
from zinc_margin.docket.docket import VERSION as DOCKET_VERSION
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.photo import PhotoLine
from zinc_margin.docket.transfer import for_photo
from zinc_margin.gate.documents import document_text, read_document
from zinc_margin.gate.files import read_text
from zinc_margin.gate.values import Wrong, number, plain
from zinc_margin.keeping.files import check_ours, make_folder, save_whole
from zinc_margin.keeping.folders import own_folder
from zinc_margin.keeping.partials import alone_in
from zinc_margin.measure.errors import BadRequest, CannotDo, ZincError
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.tables import shipped

VERSION = 1
TOO_SMALL = ("skip", "make", "enlarge")
"""What to do with a photo that has too few pixels: skip it, make it anyway, or enlarge it."""


@dataclass(frozen=True)
class Preset:
    """A docket without a photo.

    Attributes
    ----------
    name, about : str
    docket : Docket
    too_small : str
        One of `TOO_SMALL`.
    most_trimmed : Fraction or None
        Photos that would lose more than this share are skipped.
    """

    name: str
    about: str
    docket: Docket
    too_small: str = "make"
    most_trimmed: Fraction | None = None

    def docket_for(self, own: Docket | None = None) -> Docket:
        """Return the docket for one photo; see `for_photo`."""
        return for_photo(self.docket, own)


def to_json(preset: Preset) -> str:
    """Write a preset; `from_json` reads it back equal."""
    docket = document.to_plain(preset.docket)
    docket.pop("photo")
    most = preset.most_trimmed
    text = {
        "zinc_margin_preset": VERSION,
        "name": preset.name,
        "about": preset.about,
        "too_small": preset.too_small,
        "most_trimmed": None if most is None else plain(most),
        "docket": docket,
    }
    return document_text(text)


def from_json(text: str, source: str = "the preset") -> Preset:
    """Read a preset.

    Parameters
    ----------
    source : str
        Its name in error sentences.

    Raises
    ------
    BadRequest
        If it is not a preset, is newer than this program, or has a wrong value (named).
    """
    raw = read_document(text, source, "zinc_margin_preset", VERSION)
    return _read(raw, source)


def _read(raw: Mapping[str, Any], source: str) -> Preset:
    name, about = raw.get("name"), raw.get("about", "")
    if not isinstance(name, str) or not name.strip() or len(name) > 100:
        raise BadRequest(f"In {source}, name must be a short text.")
    if not isinstance(about, str) or len(about) > 1000:
        raise BadRequest(f"In {source}, about must be a text.")
    small = raw.get("too_small", "make")
    if small not in TOO_SMALL:
        raise BadRequest(f"In {source}, too_small must be one of {', '.join(TOO_SMALL)}.")
    most = raw.get("most_trimmed")
    try:
        share = None if most is None else number(0, 1)(most)
    except Wrong:
        raise BadRequest(f"In {source}, most_trimmed must be from 0 to 1, or null.") from None
    lines = raw.get("docket", {})
    if not isinstance(lines, Mapping):
        raise BadRequest(f"In {source}, docket must contain lines.")
    docket = document.from_plain({"zinc_margin_docket": DOCKET_VERSION} | dict(lines), source)
    return Preset(name.strip(), about, replace(docket, photo=PhotoLine()), small, share)


@cache
def shipped_presets() -> tuple[Preset, ...]:
    """Return the presets that come with the program."""
    entries = shipped(__file__, "presets")["presets"]
    return tuple(_read(entry, "the shipped set") for entry in entries)


def usual_folder() -> Path:
    """Return the folder of the user's presets (XDG)."""
    return own_folder("data") / "presets"


def load(path: str | Path) -> Preset:
    """Read a preset from a file."""
    return from_json(read_text(Path(path), "preset"), str(path))


def save(preset: Preset, path: Path) -> None:
    """Write a preset's file, whole or not at all."""
    check_ours(path, '"zinc_margin_preset"')
    save_whole(path, to_json(preset))


def keep(preset: Preset) -> Path:
    """Save one of the user's presets, replacing one with the same name."""
    make_folder(usual_folder())
    with alone_in(usual_folder()):
        path = _place_of(preset.name)
        save_whole(path, to_json(preset))
    return path


def remove(name: str) -> None:
    """Remove one of the user's presets."""
    try:
        _place_of(name).unlink()
    except OSError as why:
        raise CannotDo(f"{name} could not be removed: {why.strerror}.") from None


def _place_of(name: str) -> Path:
    """Return the file of a preset name: its existing one, or a new one.

    Names such as ``A/B`` and ``A.B`` have the same letters, and some have no letters from a to z,
    so the file name includes a digest of the name.
    """
    for path, preset in _saved():
        if preset.name == name:
            return path
    letters = "".join(c if c.isascii() and c.isalnum() else "-" for c in name).strip("-").lower()
    digest = hashlib.sha256(name.encode("utf-8", "surrogatepass")).hexdigest()[:8]
    return usual_folder() / f"{'-'.join(filter(None, (letters[:60], digest)))}.json"


def _saved() -> Iterator[tuple[Path, Preset]]:
    """Yield the user's readable presets and their files."""
    for path in _files():
        with suppress(ZincError):
            yield path, load(path)


def _files() -> list[Path]:
    return sorted(usual_folder().glob("*.json"))


def own() -> tuple[Preset, ...]:
    """Return the user's presets; skip broken files."""
    return tuple(preset for _, preset in _saved())


def broken() -> tuple[str, ...]:
    """Return a sentence for every unreadable preset file."""
    result = []
    for path in _files():
        try:
            load(path)
        except ZincError as why:
            result.append(str(why))
    return tuple(result)


def every() -> tuple[Preset, ...]:
    """Return all presets, the user's first."""
    return (*own(), *shipped_presets())


def find(name: str) -> Preset:
    """Return a preset by name, the user's first, or from a file.

    Raises
    ------
    BadRequest
        If it is unknown; the sentence lists the known ones.
    """
    if name.endswith(".json") or "/" in name:
        return load(name)
    wanted = plain_text(name)
    known = every()
    for preset in known:
        if plain_text(preset.name) == wanted:
            return preset
    near = [preset for preset in known if plain_text(preset.name).startswith(wanted)]
    if len(near) == 1:
        return near[0]
    names = "; ".join(preset.name for preset in known)
    raise BadRequest(" ".join((f"Unknown preset “{name}”. Choose one of: {names}.", *broken())))
