"""Metadata that reveals a photo's location, or shows its old pixels.

A location property is recognised by its namespace and the words in its name, a keyword by its
branch: `Places|Kilnshire|Rivermouth` also removes a plain `Rivermouth`.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from contextlib import suppress
from functools import cache
from typing import Any

from zinc_margin.measure.tables import shipped

_WORD = re.compile(r"[A-Z]+(?![a-z])|[A-Z]?[a-z]+|\d+")
_BETWEEN = re.compile(r"[|/\\>]")
_KEYWORD_LISTS = ("keyword", "keywords", "subject", "tags", "tag", "categories", "catalog")
_MAKER_NOTE = "Exif.Photo.MakerNote"
_UTF_16 = "Exif.Image.XP"
_CONTACT = "CreatorContactInfo"
"""The photographer's own address does not reveal where the photo was taken."""


@cache
def _names_place(name: str) -> frozenset[str]:
    return frozenset(shipped(__file__, "places")[name])


def place_keys(
    exif: Mapping[str, Any], iptc: Mapping[str, Any], xmp: Mapping[str, Any]
) -> dict[str, Any]:
    """Return the keys to remove so no location remains, and the shortened keyword lists.

    Parameters
    ----------
    exif, iptc, xmp : mapping of str to str, list or dict
        Keyed by Exiv2 names.

    Returns
    -------
    dict
        None marks a key to remove.
    """
    gone: dict[str, Any] = {}
    exif = {key: _as_text(key, value) for key, value in exif.items()}
    for key in exif:
        group = key.split(".")[1]
        if group == "GPSInfo" or _tells_place(key):
            gone[key] = None
        elif group not in ("Image", "Photo", "Iop", "Thumbnail"):
            gone[key] = None  # maker notes: their content is undocumented
    if _MAKER_NOTE in exif:
        gone[_MAKER_NOTE] = None
    for key in (*iptc, *xmp):
        if _tells_place(key):
            gone[key] = None
    gone |= _with_their_kin(gone, xmp)
    named = {word.casefold() for held in (exif, iptc, xmp) for word in _hung_on_places(held)}
    gone |= _branches(xmp, named)
    for held in (exif, iptc, xmp):
        for key, value in held.items():
            if key in gone or not _lists_keywords(key):
                continue
            words = _texts(value)
            left = [word for word in words if not _is_of_place(word, named)]
            if len(left) < len(words):
                gone[key] = (left if isinstance(value, list) else ";".join(left)) or None
    return gone


def _as_text(key: str, value: Any) -> Any:
    """Return an EXIF value as text: some programs store theirs as bytes of UTF-16.

    Exiv2 shows bytes as numbers unless they have the usual type; texts may end in zeros, and
    comments begin with the name of their characters.
    """
    if not isinstance(value, str):
        return value
    if key.startswith(_UTF_16) and re.fullmatch(r"[\d ]+", value):
        with suppress(ValueError):  # a number that is no byte
            value = bytes(map(int, value.split())).decode("utf-16-le", "replace")
    return re.sub(r'^charset="?\w+"? ', "", value).rstrip("\0")


def old_pixels(xmp: Mapping[str, Any]) -> dict[str, None]:
    """Return the keys with older versions of the picture: thumbnails, previews, depth."""
    gone = {
        key: None
        for key in xmp
        if not _names_place("old_pixels").isdisjoint(_words(key.removeprefix("Xmp.")))
    }
    return gone | _with_their_kin(gone, xmp)


def _with_their_kin(gone: Mapping[str, Any], xmp: Mapping[str, Any]) -> dict[str, None]:
    """Return all keys of every affected property, because a partial removal leaves gaps."""
    roots = {_root(key) for key in gone if key.startswith("Xmp.")}
    return {key: None for key in xmp if _root(key) in roots}


def _root(key: str) -> str:
    return re.split(r"[\[/]", key, maxsplit=1)[0]


def _words(name: str) -> set[str]:
    return {word.lower() for word in _WORD.findall(name)}


def _tells_place(key: str) -> bool:
    family, group, name = (*key.split(".", 2), "", "")[:3]
    if _CONTACT in name:
        return False
    if family == "Xmp" and not _names_place("namespaces").isdisjoint(_words(group.lower())):
        return True
    return "gps" in name.lower() or not _names_place("words").isdisjoint(_words(name))


def _lists_keywords(key: str) -> bool:
    return not _words(key.split(".", 2)[-1]).isdisjoint(_KEYWORD_LISTS) or key.endswith("XMP")


def _texts(value: Any) -> list[str]:
    if isinstance(value, Mapping):
        return [str(each) for each in value.values()]
    if isinstance(value, (list, tuple)):
        return [str(each) for each in value]
    return [part.strip() for part in str(value).split(";")]


def _parts(text: str) -> list[str]:
    return [part.strip() for part in _BETWEEN.split(text) if part.strip()]


def _begins_at_place(parts: list[str]) -> bool:
    return len(parts) > 1 and parts[0].casefold() in _names_place("branches")


def _hung_on_places(held: Mapping[str, Any]) -> Iterator[str]:
    """Yield every word below a location branch."""
    for key, value in held.items():
        if not _lists_keywords(key):
            continue
        for text in _texts(value):
            parts = _parts(text)
            if _begins_at_place(parts):
                yield from parts[1:]


def _is_of_place(word: str, named: set[str]) -> bool:
    return word.strip().casefold() in named or _begins_at_place(_parts(word))


def _branches(xmp: Mapping[str, Any], named: set[str]) -> dict[str, None]:
    """Return the keys of keyword trees with a location; add their words to `named`."""
    gone: dict[str, None] = {}
    for key, value in xmp.items():
        stem, _, leaf = key.rpartition("/")
        if not stem or "keyword" not in _words(leaf):
            continue
        if str(value).strip().casefold() in _names_place("branches") and "Children" not in stem:
            gone[key] = None
            for other, text in xmp.items():
                if other != key and other.startswith(f"{stem}/") and other.endswith(leaf):
                    named.add(str(text).strip().casefold())
    return _with_their_kin(gone, xmp)
