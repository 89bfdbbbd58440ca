"""Compiled code is never stale: an edited helper runs as it was edited, and old caches go."""

from __future__ import annotations

import os
import random
import resource
import signal
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest

from zinc_margin.commands.compile_loops import compile_all
from zinc_margin.keeping.folders import make_private
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import Cancelled
from zinc_margin.pixels import (
    coding,
    edges,
    enlarge,
    grain,
    half_size,
    lightness,
    loop_cache,
    loops,
    processor,
    rotate,
)
from zinc_margin.pixels.loop_cache import FOLDER, engine_digest, use_cache

HELPER = "from numba import njit\n\n@njit\ndef glaze(x):\n    return x + {}\n"
LOOP = (
    "from numba import njit\nfrom helper import glaze\n\n"
    "@njit(cache=True)\ndef fired(x):\n    return 10 * glaze(x)\n"
)
RUN = (
    "import sys\nfrom pathlib import Path\n"
    "from zinc_margin.pixels.loop_cache import use_cache\n"
    "use_cache(*map(Path, sys.argv[1:]))\n"
    "sys.path.insert(0, sys.argv[1])\nfrom loop import fired\nprint(fired(1))\n"
    "print(sum(fired.stats.cache_misses.values()), file=sys.stderr)"
)


def run_loop(*folders: Path, **settings: str) -> tuple[str, int]:
    run = [sys.executable, "-c", RUN, *map(str, folders)]
    environment = os.environ | settings
    done = subprocess.run(run, capture_output=True, text=True, check=True, env=environment)
    return done.stdout.strip(), int(done.stderr)


def fired(sources: Path, caches: Path) -> str:
    return run_loop(sources, caches)[0]


def test_an_edited_helper_changes_what_runs(tmp_path):
    sources, caches = tmp_path / "kiln", tmp_path / "caches"
    sources.mkdir()
    (sources / "loop.py").write_text(LOOP)
    (sources / "helper.py").write_text(HELPER.format(1))
    assert fired(sources, caches) == "20"
    (first,) = caches.iterdir()
    assert any(first.rglob("*.nbi"))
    assert fired(sources, caches) == "20" and list(caches.iterdir()) == [first]
    (sources / "helper.py").write_text(HELPER.format(4))
    assert fired(sources, caches) == "50"


def test_loops_of_a_package_need_no_compiler(tmp_path):
    sources, shipped = tmp_path / "kiln", tmp_path / "shipped"
    sources.mkdir()
    (sources / "loop.py").write_text(LOOP)
    (sources / "helper.py").write_text(HELPER.format(1))
    reached = processor.levels(processor.description())
    if not reached:
        pytest.skip("not a processor of any level")
    named = {"NUMBA_CPU_NAME": reached[0], "NUMBA_CPU_FEATURES": ""}
    assert run_loop(sources, tmp_path / "built", **named) == ("20", 1)
    (built,) = (tmp_path / "built").iterdir()
    shipped.mkdir()
    built.rename(shipped / reached[0])
    (shipped / "x86-64-v9").mkdir()  # for processors to come
    assert run_loop(sources, tmp_path / "caches", shipped) == ("20", 0)
    # another machine's level is of no use here
    (shipped / reached[0]).rename(shipped / "x86-64-v8")
    assert run_loop(sources, tmp_path / "others", shipped) == ("20", 1)


@pytest.mark.parametrize(
    ("features", "best"),
    [
        ("fpu sse2", None),
        ("cx16 lahf_lm popcnt sse4_1 sse4_2 ssse3 avx2", "x86-64-v2"),
        (
            "cx16 lahf_lm popcnt sse4_1 sse4_2 ssse3 abm avx avx2 bmi1 bmi2 f16c fma movbe xsave",
            "x86-64-v3",
        ),
        ("avx512f avx512bw avx512cd avx512dq avx512vl", None),  # each level needs those below it
    ],
)
def test_the_level_of_a_processor(features, best):
    found = processor.levels(f"model name: Kiln 2\nflags\t\t: {features}")
    assert (found or [None])[0] == best


def test_only_the_newest_caches_stay(tmp_path, monkeypatch):
    monkeypatch.setenv("NUMBA_CACHE_DIR", "")
    sources, caches = tmp_path / "kiln", tmp_path / "caches"
    sources.mkdir()
    for age in range(4):
        old = caches / f"old{age}"
        old.mkdir(parents=True)
        os.utime(old, (1000 + age, 1000 + age))
    (sources / "loop.py").write_text(LOOP)
    import numba

    before = numba.config.CACHE_DIR
    try:
        now = use_cache(sources, caches)
        assert str(now) == numba.config.CACHE_DIR
    finally:
        numba.config.CACHE_DIR = before
    assert sorted(one.name for one in caches.iterdir()) == sorted([now.name, "old3"])


def test_the_engine_itself_is_kept_by_its_digest():
    engine = Path(sys.modules["zinc_margin.pixels.loop_cache"].__file__ or "").parent
    assert FOLDER.name == engine_digest(engine, processor.description()) and len(FOLDER.name) == 16


def test_getting_ready_goes_through_every_loop():
    compile_all()
    kept = {
        f"{module.__name__}.{name}": one
        # those that are called from outside; what they call is compiled with them
        for module in (coding, edges, enlarge, grain, half_size, lightness, loops, rotate)
        for name, one in vars(module).items()
        if hasattr(one, "signatures")
        and one.py_func.__module__ == module.__name__
        and not name.startswith("_")
        and name != "down_rows"  # `half_size` calls it, too
        and one.targetoptions.get("inline") != "always"
    }
    assert len(kept) > 10
    assert [name for name, one in kept.items() if not one.signatures] == []


def test_a_process_that_gets_ready_is_waited_for(tmp_path, monkeypatch):
    monkeypatch.setattr(loop_cache, "FOLDER", tmp_path)
    assert not loop_cache.is_awaited()
    code = (
        "import sys, time; from pathlib import Path; from zinc_margin.pixels import loop_cache\n"
        "loop_cache.FOLDER = Path(sys.argv[1]); assert loop_cache.claim(); print('mine', flush=True)\n"
        "assert not loop_cache.is_awaited(); sys.stdin.read(); loop_cache.tell_ready()"
    )
    run = [sys.executable, "-c", code, str(tmp_path)]
    with subprocess.Popen(run, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as other:
        assert other.stdout.readline() == "mine\n"
        assert loop_cache.is_awaited() and not loop_cache.claim()
        loop_cache.note_ready({"grey"})
        loop_cache.wait({"grey"})  # what is ready is not waited for
        seen = []
        job = Job(lambda *shown: (seen.append(shown), job.cancel()))
        with pytest.raises(Cancelled):
            loop_cache.wait({"grey", "colour"}, job)
        assert seen == [(0.0, None)]
        other.stdin.close()
        loop_cache.wait({"colour"})
    assert loop_cache.is_ready() and not loop_cache.is_awaited() and other.returncode == 0


GUARDED = RUN.replace(
    "from loop import",
    "from zinc_margin.pixels.cache_guard import guard\nguard()\nfrom loop import",
).replace("print(fired(1))", "print(fired(1), sum(fired.stats.cache_hits.values()))")


def guarded(sources: Path, caches: Path, before: Callable[[], None] | None = None) -> str:
    kept = {key: value for key, value in os.environ.items() if key != "NUMBA_CACHE_DIR"}
    run = [sys.executable, "-c", GUARDED, str(sources), str(caches)]
    done = subprocess.run(run, capture_output=True, text=True, env=kept, preexec_fn=before)
    assert done.returncode == 0, done.stderr
    return done.stdout.strip()


def test_a_loop_is_compiled_by_one_process_only(tmp_path):
    sources, caches = tmp_path / "kiln", tmp_path / "caches"
    sources.mkdir()
    (sources / "loop.py").write_text(LOOP)
    (sources / "helper.py").write_text(HELPER.format(1))
    kept = {key: value for key, value in os.environ.items() if key != "NUMBA_CACHE_DIR"}
    run = [sys.executable, "-c", GUARDED, str(sources), str(caches)]
    every = [subprocess.Popen(run, stdout=subprocess.PIPE, text=True, env=kept) for _ in range(3)]
    assert sorted(one.communicate()[0].strip() for one in every) == ["20 0", "20 1", "20 1"]


@pytest.mark.parametrize("ending", ["nbi", "nbc", "sum"])
@pytest.mark.parametrize("harm", ["noise", "cut", "empty"])
def test_a_damaged_cache_is_discarded_and_compiled_again(tmp_path, ending, harm):
    sources, caches = tmp_path / "kiln", tmp_path / "caches"
    sources.mkdir()
    (sources / "loop.py").write_text(LOOP)
    (sources / "helper.py").write_text(HELPER.format(1))
    assert guarded(sources, caches) == "20 0"
    assert guarded(sources, caches) == "20 1"
    chance = random.Random(4)
    for path in caches.rglob(f"*.{ending}"):
        data = bytearray(path.read_bytes())
        if harm == "noise":
            for _ in range(max(1, len(data) // 20)):
                data[chance.randrange(len(data))] = chance.randrange(256)
        path.write_bytes({"noise": data, "cut": data[: len(data) // 2], "empty": b""}[harm])
    assert guarded(sources, caches).startswith("20")
    assert guarded(sources, caches) == "20 1"


def test_a_full_disk_under_the_cache_fails_no_print(tmp_path):
    sources, caches = tmp_path / "kiln", tmp_path / "caches"
    sources.mkdir()
    (sources / "loop.py").write_text(LOOP)
    (sources / "helper.py").write_text(HELPER.format(1))

    def nearly_full():
        signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
        resource.setrlimit(resource.RLIMIT_FSIZE, (200, 200))

    assert guarded(sources, caches, nearly_full) == "20 0"
    assert guarded(sources, caches) == "20 0"
    assert guarded(sources, caches) == "20 1"


@pytest.mark.parametrize("open_to", [0o777, 0o770, 0o1777])
def test_no_code_is_loaded_from_a_folder_that_others_can_write(tmp_path, monkeypatch, open_to):
    caches = tmp_path / "caches"
    assert make_private(caches / "engine")
    assert caches.stat().st_mode & 0o077 == 0
    (caches / "engine").chmod(open_to)
    assert not make_private(caches / "engine")
    (caches / "engine").chmod(0o700)
    caches.chmod(open_to)
    assert make_private(caches / "engine") == bool(open_to & 0o1000)
    monkeypatch.setenv("NUMBA_CACHE_DIR", "")
    if open_to & 0o1000:
        return
    import numba

    before = numba.config.CACHE_DIR
    try:
        folder = use_cache(Path(loop_cache.__file__).parent, caches)
    finally:
        numba.config.CACHE_DIR = before
    assert caches not in folder.parents and loop_cache.TROUBLE.pop().startswith("Others can write")
    (tmp_path / "link").symlink_to(caches)
    caches.chmod(0o700)
    assert not make_private(tmp_path / "link" / "engine")
