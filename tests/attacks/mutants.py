"""Damaged pictures: each is opened, a sample is made of it and checked, and nothing may fall over.

``python -m tests.attacks.mutants --count 5000 --seed 1`` says how many opened, were refused, and
what went wrong. Every mutant is made of its number alone, so that one can be looked at again
(``--only N --keep FOLDER``). They are opened in a process of their own, so that a library which
ends the process, or never ends, is found out, too.
"""

from __future__ import annotations

import argparse
import contextlib
import faulthandler
import io
import multiprocessing
import os
import random
import sys
import tempfile
import time
import traceback
from collections import Counter
from multiprocessing.connection import Connection
from pathlib import Path

from tests.attacks.seeds import seeds

_PATIENCE = 120.0
"""Seconds for one mutant; no more is a hang."""


def mutant(number: int, known: list[tuple[str, bytes]]) -> tuple[str, bytes]:
    """Return a damaged file by its number."""
    chance = random.Random(number)
    name, data = chance.choice(known)
    held = bytearray(data)
    for _ in range(chance.choice((1, 1, 1, 2, 3, 8))):
        if not held:
            break
        way = chance.randrange(9)
        # most of what a reader trusts stands at the beginning
        near = min(len(held), chance.choice((64, 400, len(held))))
        at = chance.randrange(near)
        if way <= 2:
            held[at] ^= 1 << chance.randrange(8)
        elif way == 3:
            held[at] = chance.choice((0, 1, 127, 128, 255))
        elif way == 4:
            length = chance.choice((2, 4, 8))
            held[at : at + length] = chance.choice((b"\0", b"\xff", b"\x7f")) * length
        elif way == 5:
            del held[chance.randrange(len(held)) :]
        elif way == 6:
            del held[at : at + chance.randrange(1, 40)]
        elif way == 7:
            held[at:at] = chance.randbytes(chance.randrange(1, 40))
        else:
            _, other = chance.choice(known)
            held[at:] = other[min(at, len(other)) :]
    return name, bytes(held)


def attacked(path: Path, folder: Path) -> str:
    """Open a file, make a sample, check both; return how it went, or raise."""
    from zinc_margin import commands
    from zinc_margin.docket.document import from_json
    from zinc_margin.docket.versions import beside_or_fresh
    from zinc_margin.handoff.batch import Batch, items_of
    from zinc_margin.handoff.checking import check
    from zinc_margin.handoff.labs import find
    from zinc_margin.handoff.machine import this_machine
    from zinc_margin.handoff.make import make_file
    from zinc_margin.measure.errors import ZincError
    from zinc_margin.measure.sizes import parse_size
    from zinc_margin.photo.pixels import read_photo
    from zinc_margin.plan.build import plan

    lab, size = find("lab:harbour"), parse_size("9x6cm")
    for finding in check(path, lab, size):
        assert finding.text.endswith("."), finding
    said = io.StringIO()
    with contextlib.redirect_stderr(said), contextlib.redirect_stdout(said):
        code = commands.main(["inspect", str(path)])
    assert "Something went wrong" not in said.getvalue(), said.getvalue()
    assert code in (0, 1, 2)
    form = "jpeg" if len(path.name) % 2 else "tiff"
    text = (
        '{"zinc_margin_docket": 1, "size": {"size": {"label": "card", "width_mm": 90, '
        f'"height_mm": 60}}, "ppi": 60}}, "pixels": {{"choice": "resample"}}, '
        f'"file": {{"format": "{form}"}}}}'
    )
    out = folder / ("out.jpg" if form == "jpeg" else "out.tif")
    out.unlink(missing_ok=True)
    try:
        photo = read_photo(path)
        make_file(photo, plan(photo.facts, from_json(text), this_machine()), out)
    except ZincError as why:
        assert str(why).endswith((".", ").")) and "\n" not in str(why), str(why)
        assert not out.exists()
        items = items_of([path], [], beside_or_fresh)
        Batch(items, folder / "batch").work()
        assert "Something went wrong" not in items[0].remark, items[0].remark
        return "refused"
    unread = [each for each in check(out, lab, size) if each.code == "unreadable"]
    assert not unread, unread
    return "made"


def _work(numbers: list[int], pipe: Connection, folder: Path) -> None:
    for name in ("XDG_CACHE_HOME", "XDG_DATA_HOME", "XDG_STATE_HOME"):
        os.environ[name] = str(folder / "home")
    noise = os.open(folder / "noise", os.O_CREAT | os.O_WRONLY | os.O_APPEND)
    os.dup2(noise, 2)
    known = list(seeds())
    for number in numbers:
        pipe.send((number, "begun"))
        faulthandler.dump_traceback_later(_PATIENCE - 5, file=noise)
        name, data = mutant(number, known)
        path = folder / name
        path.write_bytes(data)
        try:
            pipe.send((number, attacked(path, folder)))
        except BaseException:
            pipe.send((number, traceback.format_exc()))
        path.unlink(missing_ok=True)
    pipe.send(None)


def attack(numbers: list[int]) -> tuple[Counter[str], list[str], int]:
    """Attack with mutants; return how they went, what went wrong, and bytes of libraries' logs."""
    went: Counter[str] = Counter()
    wrong: list[str] = []
    noise = 0
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        left = list(numbers)
        while left:
            ours, theirs = multiprocessing.Pipe(False)
            context = multiprocessing.get_context("spawn")
            worker = context.Process(target=_work, args=(left, theirs, folder))
            worker.start()
            theirs.close()
            under_way = left[0]
            try:
                while True:
                    if not ours.poll(_PATIENCE):
                        worker.kill()
                        raise EOFError
                    told = ours.recv()
                    if told is None:
                        left = []
                        break
                    under_way, how = told
                    if how == "begun":
                        continue
                    if how in ("made", "refused"):
                        went[how] += 1
                    else:
                        wrong.append(f"mutant {under_way}: {how}")
                    left = [each for each in left if each != under_way]
            except EOFError:
                worker.join()
                wrong.append(f"mutant {under_way}: its process ended ({worker.exitcode})")
                left = [each for each in left if each != under_way]
            worker.join()
        with contextlib.suppress(OSError):
            noise = (folder / "noise").stat().st_size
            if noise:
                sys.stderr.write((folder / "noise").read_text("utf-8", "replace")[-2000:])
    return went, wrong, noise


def main() -> int:
    """Attack, and say how it went."""
    parser = argparse.ArgumentParser(description="Damaged pictures against the program.")
    parser.add_argument("--count", type=int, default=5000)
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument("--only", type=int)
    parser.add_argument("--keep", type=Path, help="write the one mutant there instead")
    options = parser.parse_args()
    if options.only is not None and options.keep is not None:
        name, data = mutant(options.only, list(seeds()))
        (options.keep / name).write_bytes(data)
        print(options.keep / name)
        return 0
    numbers = [options.seed * 1_000_000 + n for n in range(options.count)]
    if options.only is not None:
        numbers = [options.only]
    began = time.monotonic()
    went, wrong, noise = attack(numbers)
    print("\n".join(wrong))
    took = time.monotonic() - began
    print(
        f"{len(numbers)} mutants of {len(list(seeds()))} seeds in {took:.0f} s: {went['made']} "
        f"made, {went['refused']} refused, {len(wrong)} went wrong; {noise} bytes of others' logs."
    )
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
