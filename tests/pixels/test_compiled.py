"""Compiled code is never stale: an edited helper runs as it was edited, and old caches go."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

from zinc_margin.commands.compile_loops import compile_all
from zinc_margin.pixels import coding, enlarge, loop_cache, loops, rotate, sharpening
from zinc_margin.pixels.loop_cache import FOLDER, engine_digest, use_cache

HELPER = "from numba import njit\n\n@njit\ndef glaze(x):\n    return x + {}\n"
LOOP = (
    "from numba import njit\nfrom helper import glaze\n\n"
    "@njit(cache=True)\ndef fired(x):\n    return 10 * glaze(x)\n"
)
RUN = (
    "import sys\nfrom pathlib import Path\n"
    "from zinc_margin.pixels.loop_cache import use_cache\n"
    "use_cache(Path(sys.argv[1]), Path(sys.argv[2]))\n"
    "sys.path.insert(0, sys.argv[1])\nfrom loop import fired\nprint(fired(1))\n"
)


def fired(sources: Path, caches: Path) -> str:
    run = [sys.executable, "-c", RUN, str(sources), str(caches)]
    done = subprocess.run(run, capture_output=True, text=True, check=True)
    return done.stdout.strip()


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
    assert FOLDER.name == engine_digest(engine) and len(FOLDER.name) == 16


def test_getting_ready_goes_through_every_loop():
    compile_all()
    kept = {
        f"{module.__name__}.{name}": one
        # those that are called from outside; what they call is compiled with them
        for module in (coding, enlarge, loops, sharpening, rotate)
        for name, one in vars(module).items()
        if hasattr(one, "signatures")
        and one.py_func.__module__ == module.__name__
        and not name.startswith("_")
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
        other.stdin.close()
        loop_cache.wait()
    assert loop_cache.is_ready() and not loop_cache.is_awaited() and other.returncode == 0
