"""The batch: many photos with presets or with their own dockets; it can be continued later.

A journal in the destination folder, which several batches may share, records finished files. A file
is recorded before it gets its name, and counts as made if its digest matches the journal and its
photo and docket are unchanged; the name alone proves nothing.
"""

from __future__ import annotations

import builtins
import hashlib
import json
import os
import re
import threading
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from contextlib import suppress
from dataclasses import dataclass, field, replace
from pathlib import Path
from threading import Event
from typing import Any

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.document import to_json
from zinc_margin.docket.presets import Preset
from zinc_margin.docket.version_names import version_names
from zinc_margin.gate.files import read_own
from zinc_margin.gate.values import (
    Wrong,
    list_of,
    name_from,
    record,
    table_of,
    text_from,
    yes_or_no,
)
from zinc_margin.handoff import names
from zinc_margin.handoff.checking import check
from zinc_margin.handoff.contact import contact_print
from zinc_margin.handoff.delivery import deliver, many_files
from zinc_margin.handoff.labs import Lab
from zinc_margin.handoff.machine import this_machine
from zinc_margin.keeping import log
from zinc_margin.keeping.files import digest_of, save_whole
from zinc_margin.keeping.job import Job, Journal
from zinc_margin.keeping.partials import alone_in, sweep
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest, Cancelled, CannotDo, ZincError
from zinc_margin.photo.pixels import read_photo
from zinc_margin.photo.subject import with_mark
from zinc_margin.photo.subject_detection import with_found_subject
from zinc_margin.plan.file.name import is_counted
from zinc_margin.plan.model import Plan, plan_of_file
from zinc_margin.plan.size.suitability import judge
from zinc_margin.plan.text.phrases import skipped_words

JOURNAL = "zinc-margin-batch.json"
_JOURNALS = "zinc-margin-batch*.json"


STATES = ("waiting", "making", "made", "kept", "skipped", "failed")
"""``kept``: made by an earlier run, and complete."""


@dataclass
class Item:
    """One photo of a batch.

    Attributes
    ----------
    photo : Path
    docket : Docket
    preset : Preset or None
    version : str
        The name of the version or the preset, if there are several; else empty.
    state : str
        One of `STATES`.
    remark : str
        Why it was skipped or failed, or the print's figures.
    goal : Path or None
    plan : Plan or None
        The plan; of the file itself, once it is made.
    seconds : float
    digest : str
        Digest of its (first) file in the journal.
    refused : tuple of str or None
        The lab's objections; None without a check.
    picture : bytes or None
        A contact print (JPEG) of the print, made or skipped.
    place : int
        From 1 on, its place in the whole list, if this is a share of it; else 1.
    same : int
        How many items up to this one have the same name, if this is a share; else 1.
    """

    photo: Path
    docket: Docket
    preset: Preset | None = None
    version: str = ""
    state: str = "waiting"
    remark: str = ""
    goal: Path | None = None
    plan: Plan | None = field(default=None, repr=False)
    seconds: float = 0.0
    bytes: int = 0
    digest: str = ""
    refused: tuple[str, ...] | None = None
    picture: builtins.bytes | None = field(default=None, repr=False)
    place: int = 1
    same: int = 1


@dataclass
class _Entry:
    """The journal's record of one item.

    Attributes
    ----------
    key : str
        Digest of photo and decisions.
    done : bool
    files : list of str
        In the batch's folder.
    digests : list of str
        SHA-256 of each.
    """

    key: str
    done: bool = False
    files: list[str] = field(default_factory=list)
    digests: list[str] = field(default_factory=list)

    def add(self, name: str, digest: str, more: bool) -> None:
        """Record a file; replace the previous one unless several are expected."""
        if not more:
            self.files.clear()
            self.digests.clear()
        self.files.append(name)
        self.digests.append(digest)

    def whole(self, folder: Path) -> list[Path]:
        """Return the recorded files that exist in the folder with matching digests."""
        inside = os.path.join(os.path.realpath(folder), "")
        result = []
        for name, digest in zip(self.files, self.digests, strict=True):
            path = folder / name
            with suppress(OSError, ValueError):
                is_inside = os.path.realpath(path).startswith(inside) and not path.is_symlink()
                if is_inside and path.is_file() and digest_of(path) == digest:
                    result.append(path)
        return result


def items_of(
    photos: Iterable[Path], presets: Sequence[Preset], own: Callable[[Path], Sequence[Docket]]
) -> list[Item]:
    """Return the batch's items: one per preset, or one per version of the photo.

    Parameters
    ----------
    own : callable
        Returns a photo's own dockets.
    """
    several = len(presets) > 1
    if presets:
        return [
            Item(path, preset.docket_for(own(path)[0]), preset, preset.name if several else "")
            for path in photos
            for preset in presets
        ]
    return [item for path in photos for item in _items_of_versions(path, own(path))]


def _items_of_versions(photo: Path, dockets: Sequence[Docket]) -> list[Item]:
    if len(dockets) == 1:
        return [Item(photo, dockets[0])]
    named = zip(version_names(dockets), dockets, strict=True)
    return [Item(photo, docket, version=name) for name, docket in named]


@dataclass(frozen=True)
class Share:
    """Every `of`-th item of a batch, starting with number `first`; other machines make the others.

    Shares need no lock that works across machines: each has its own journal and report, their names
    follow from the whole list, and a file gets its name only if nothing has it.
    """

    first: int
    of: int

    @property
    def mark(self) -> str:
        """What its journal and its report have in their names."""
        return f"-{self.first}-of-{self.of}"

    def items(self, whole: Sequence[Item]) -> list[Item]:
        """Return its items; their names are decided here, from the whole list."""
        seen: Counter[str] = Counter()
        for place, item in enumerate(whole, 1):
            name = names.alike(Path(f"{item.photo.stem}\n{item.version}"))
            seen[name] += 1
            item.place, item.same = place, seen[name]
        return list(whole[self.first - 1 :: self.of])


def share_of_batch(text: str) -> Share:
    """Return a share, for example of ``2/8``.

    Raises
    ------
    BadRequest
    """
    found = re.fullmatch(r"\s*(\d{1,5})\s*/\s*(\d{1,5})\s*", text)
    share = Share(int(found[1]), int(found[2])) if found else None
    if share is None or not 1 <= share.first <= share.of:
        raise BadRequest(
            f"“{text}” is not a share. Write 2/8 for every eighth photo, starting with the second."
        )
    return share


class Batch:
    """Makes the files of many items, two at a time; an error in one does not stop the others.

    Parameters
    ----------
    folder : Path
        The folder for files and the journal.
    changed : callable, optional
        Receives an item whose state has changed; called in a worker.
    check_for : Lab, optional
        The lab whose terms every finished file is checked against.
    finds_subject : bool
        Whether to detect the subject in photos without a subject point.
    share : Share, optional
        The share that the items are.
    """

    def __init__(
        self,
        items: Sequence[Item],
        folder: Path,
        changed: Callable[[Item], None] | None = None,
        jobs: int = 2,
        check_for: Lab | None = None,
        finds_subject: bool = False,
        share: Share | None = None,
    ) -> None:
        mark = "" if share is None else share.mark
        self._journal = JOURNAL.replace(".json", f"{mark}.json")
        self.check_for, self.finds_subject = check_for, finds_subject
        self.items, self.jobs = list(items), max(1, jobs)
        self.folder = Path(os.path.abspath(folder))
        self.job = Job()
        self._going = Event()
        self._going.set()
        self._changed = changed or (lambda item: None)
        self._lock = threading.Lock()
        self._taken: set[str] = set()

    def pause(self) -> None:
        """Start no further file until `go_on`."""
        self._going.clear()

    def go_on(self) -> None:
        """Continue after a pause."""
        self._going.set()

    @property
    def paused(self) -> bool:
        """Whether the batch is paused."""
        return not self._going.is_set()

    def retry(self) -> None:
        """Queue failed items again."""
        for item in self.items:
            if item.state == "failed":
                item.state, item.remark = "waiting", ""

    def work(self) -> list[Item]:
        """Make every waiting item.

        Raises
        ------
        CannotDo
            If the folder is not writable.
        Cancelled
            After `cancel`; finished files stay, and the next run continues.
        """
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
        except OSError as why:
            raise CannotDo(
                f"The folder {self.folder} could not be created: {why.strerror}."
            ) from None
        sweep()
        waiting = [item for item in self.items if item.state == "waiting"]
        with ThreadPoolExecutor(self.jobs, "run") as pool:
            going: set[Future[None]] = set()
            for item in waiting:
                while len(going) >= self.jobs:
                    _, going = wait(going, return_when=FIRST_COMPLETED)
                while not self._going.wait(0.1) and not self.job.cancelled:
                    pass
                if self.job.cancelled:
                    break
                going.add(pool.submit(self._one, item))
            wait(going)
        if self.job.cancelled:
            raise Cancelled
        return self.items

    def _one(self, item: Item) -> None:
        try:
            self._make(item)
        except Cancelled:
            self._set(item, "waiting", "")
        except ZincError as why:
            self._set(item, "failed", str(why))
        except MemoryError:
            self._set(item, "failed", f"{item.photo.name} needs more memory than this machine has.")
        except Exception as why:  # an error concerns only its photo
            self._set(item, "failed", log.record(why, to_json(item.docket)))

    def _make(self, item: Item) -> None:
        self._set(item, "making", "")
        photo = read_photo(item.photo, page=item.docket.photo.page)
        photo = replace(photo, facts=with_mark(photo.facts))
        if self.finds_subject:
            photo, _ = with_found_subject(photo)
        facts = photo.facts
        result, why = judge(facts, item.docket, item.preset, this_machine())
        skipped = "" if why is None else skipped_words(why)
        item.plan, item.picture = result, contact_print(photo, result)
        if skipped:
            self._set(item, "skipped", skipped)
            return
        key = hashlib.sha256(
            f"{facts.digest}\n{result.record.text()}\n{facts.subject}".encode()
        ).hexdigest()
        if self._is_kept(item, key):
            self._check(item)
            return
        entry = _Entry(key)

        def note(path: Path, digest: str) -> None:
            entry.add(str(path.relative_to(self.folder)), digest, many_files(result))
            self._enter(item, entry)

        journal = Journal(note, lambda taken: self._goal(item, result))
        goal = self._goal(item, result)
        try:
            files = deliver(photo, result, goal, False, self.job.of_file(journal))
        except BaseException:
            with self._lock:
                self._taken.discard(names.alike(goal))
            raise
        entry.done = True
        self._enter(item, entry)
        item.goal, item.digest = files[0].path, entry.digests[0]
        item.plan = result if many_files(result) else plan_of_file(files[0].plan)
        item.bytes = sum(each.bytes for each in files)
        item.seconds = sum(each.seconds for each in files)
        self._check(item)
        remarks = [each.remark for each in files if each.remark]
        self._set(item, "made", " ".join([_came_to(item.plan), *remarks]))

    def _check(self, item: Item) -> None:
        """Check a finished file against the lab's terms, with the lab's own reader."""
        if self.check_for is not None and item.goal is not None and item.plan is not None:
            result = check(item.goal, self.check_for, item.plan.size)
            item.refused = tuple(f"{each.text} {each.way}" for each in result)

    def _is_kept(self, item: Item, key: str) -> bool:
        """Return whether an earlier run made this file and it is complete."""
        entries = (_journal_of(path).get(_key_of(item)) for path in self._journals())
        entry = next((one for one in entries if one is not None and one.key == key), None)
        if entry is None:
            return False
        paths = entry.whole(self.folder)
        if not entry.done and item.plan is not None and many_files(item.plan):
            for path in paths:  # it was interrupted among its pieces; make them again
                path.unlink(missing_ok=True)
            with suppress(OSError):
                (self.folder / entry.files[0]).parent.rmdir()
            return False
        if not paths or len(paths) < len(entry.files):
            return False
        item.goal, item.bytes = paths[0], sum(path.stat().st_size for path in paths)
        item.digest = entry.digests[0]
        self._set(item, "kept", "made before, and complete")
        return True

    def _journals(self) -> Iterator[Path]:
        """Yield the folder's journals, its own first."""
        yield self.folder / self._journal
        yield from sorted(self.folder.glob(_JOURNALS))

    def _goal(self, item: Item, plan: Plan) -> Path:
        """Return a new file name that no other item of the batch uses."""
        count = item.place if is_counted(plan) else item.same
        with self._lock:
            goal = names.goal(item.photo, plan, self._taken, self.folder, count)
            self._taken.add(names.alike(goal))
        return goal

    def _enter(self, item: Item, entry: _Entry) -> None:
        with self._lock, alone_in(self.folder):
            noted = _journal_of(self.folder / self._journal) | {_key_of(item): entry}
            plain = {key: vars(each) for key, each in noted.items()}
            text = json.dumps({"zinc_margin_run": 1, "photos": plain}, indent=1)
            save_whole(self.folder / self._journal, text)

    def _set(self, item: Item, state: str, remark: str) -> None:
        item.state, item.remark = state, remark
        self._changed(item)


def _key_of(item: Item) -> str:
    return f"{item.photo}\n{item.version}" if item.version else str(item.photo)


def _came_to(plan: Plan) -> str:
    page = f"{plan.page.width} × {plan.page.height} px, {plan.grade}"
    if plan.maker.for_screen:  # a screen has no centimetres
        return page
    return f"{words.pair(plan.size.width_mm, plan.size.height_mm, plan.units)}, {page}"


def _journal_of(path: Path) -> dict[str, _Entry]:
    """Return a journal's valid entries; files of invalid ones are made again."""
    photos: dict[str, _Entry | None] = read_own(path, _PHOTOS, {"photos": {}})["photos"]
    return {key: entry for key, entry in photos.items() if entry is not None}


def _entry(raw: Any) -> _Entry | None:
    try:
        fields = _ENTRY(raw)
    except Wrong:
        return None
    files, digests = list(fields["files"]), list(fields["digests"])
    if len(files) != len(digests):
        files, digests = [], []
    return _Entry(fields["key"], fields["done"], files, digests)


_ENTRY = record(
    {
        "key": text_from,
        "done": yes_or_no,
        "files": list_of(name_from),
        "digests": list_of(name_from),
    }
)
_PHOTOS = record({"photos": table_of(_entry)})


def tally(items: Sequence[Item]) -> str:
    """Return the state of a batch as one row."""
    counts = {state: sum(item.state == state for item in items) for state in STATES}
    sentence = {
        "made": "made",
        "kept": "made before",
        "skipped": "skipped",
        "failed": "failed",
        "making": "in progress",
        "waiting": "waiting",
    }
    return ", ".join(f"{counts[state]} {text}" for state, text in sentence.items() if counts[state])
