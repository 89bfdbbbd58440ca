"""Hostile surroundings: damaged folders of the program, odd environments, little memory, full disks.

``python -m tests.attacks.surroundings --count 200 --seed 1``. Each attack prepares a home folder
that a program has used, damages what is kept there, sets odd variables and limits, runs a command
or the window, and judges the end: a result or one sentence, no traceback, no "Something went
wrong", no partial file, and the photos unchanged.
"""

from __future__ import annotations

import argparse
import json
import os
import random
import resource
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from pathlib import Path

import numpy as np
from PIL import Image

from tests.attacks.kills import digest

_COMMAND = [sys.executable, "-m", "zinc_margin.commands"]
_SIZE = ("--size", "6x4cm", "--ppi", "100", "--method", "lanczos")
COMMANDS = (
    ("plan", "a.jpg", *_SIZE),
    ("plan", "a.jpg", "--docket", "a.jpg.docket.json", "--json"),
    ("make", "a.jpg", *_SIZE, "--out", "out/o.tif", "--overwrite"),
    ("make", "a.jpg", *_SIZE, "--out", "out/o.jpg", "--overwrite", "--save-docket", "out/d.json"),
    ("batch", ".", "--preset", "card.json", "--out", "out"),
    ("inspect", "a.jpg"),
    ("made",),
    ("made", "--again", "1", "--out", "out/again.tif"),
    ("log",),
    ("printers",),
    ("print", "a.jpg", *_SIZE, "--on", "desk"),
    ("send", "a.jpg", "--to", "kiln-street", "--size", "6x4cm", "--box", "out/box"),
    ("sizes",),
    ("preset",),
    ("ladder", "a.jpg"),
    ("check", "a.jpg", "--against", "lab.json"),
    ("measure-paper", "scan.png"),
    ("open", "a.jpg"),
    ("open", "shelf.rack.json"),
)
NOISE: tuple[Callable[[random.Random], bytes], ...] = (
    lambda rng: b"",
    lambda rng: rng.randbytes(rng.randrange(1, 400)),
    lambda rng: b"[" * 100_000,
    lambda rng: b"NaN",
    lambda rng: b'{"times": {"all": NaN}, "photos": [], "place": [1e999]}',
    lambda rng: b"\xff\xfe{}",
    lambda rng: json.dumps({"zinc_margin_docket": rng.choice([1, 99, [], None])}).encode(),
)


def prepared(folder: Path) -> dict[str, str]:
    """Put photos and documents there; return the photos' digests."""
    rng = np.random.default_rng(1)
    for name in ("a.jpg", "b.jpg", "scan.png"):
        Image.fromarray(rng.integers(0, 255, (300, 450, 3), np.uint8)).save(folder / name)
    (folder / "out").mkdir()
    card = {"zinc_margin_preset": 1, "name": "Card", "docket": {"size": {"ppi": 75}}}
    (folder / "card.json").write_text(json.dumps(card))
    (folder / "shelf.rack.json").write_text('{"zinc_margin_rack": 1, "photos": []}')
    (folder / "lab.json").write_text('{"key": "lab:x"}')
    (folder / "a.jpg.docket.json").write_text('{"zinc_margin_docket": 1}')
    return {name: digest(folder / name) for name in ("a.jpg", "b.jpg", "scan.png")}


def damage(home: Path, folder: Path, rng: random.Random) -> str:
    """Damage some of what the program keeps, or documents of the user; return what."""
    held = [path for path in home.rglob("*") if path.is_file() and "compiled" not in path.parts]
    held += [path for path in folder.iterdir() if path.name.endswith(".json")]
    done = []
    for path in rng.sample(held, min(len(held), rng.choice((1, 2, 5, 40)))):
        way = rng.choice(("noise", "short", "flipped", "folder", "link", "pipe", "closed"))
        whole = path.read_bytes()
        path.unlink()
        if way == "noise":
            path.write_bytes(rng.choice(NOISE)(rng))
        elif way == "short":
            path.write_bytes(whole[: rng.randrange(len(whole) + 1)])
        elif way == "flipped":
            other = bytearray(whole)
            for _ in range(8):
                if other:
                    other[rng.randrange(len(other))] = rng.randrange(256)
            path.write_bytes(other)
        elif way == "folder":
            path.mkdir()
        elif way == "link":
            path.symlink_to(rng.choice(("/nowhere", path.name, str(folder / "shelf.rack.json"))))
        elif way == "pipe":
            os.mkfifo(path)
        else:
            path.write_bytes(whole)
            path.chmod(0)
        done.append(f"{way} {path.name}")
    return ", ".join(done)


def surroundings(home: Path, folder: Path, rng: random.Random) -> tuple[dict[str, str], str]:
    """Return an odd environment, and what is odd in it."""
    env = {"PATH": os.environ["PATH"], "HOME": str(home), "PYTHONPATH": os.getcwd()}
    env |= {
        "QT_QPA_PLATFORM": "offscreen",
        "NUMBA_CACHE_DIR": os.environ.get("NUMBA_CACHE_DIR", ""),
    }
    odd = {
        "LC_ALL": ("POSIX", "ar_EG.UTF-8", "de_DE.UTF-8", "x" * 5000, "\x1b[2J", "tr_TR"),
        "CUPS_SERVER": ("[::1]:1", "a b", "desk:x", "/nowhere", "127.0.0.1:1", ":", "x" * 9000),
        "USER": ("ü" * 300, "\x07bell", ""),
        "XDG_STATE_HOME": (
            "relative",
            "/dev/null",
            "/proc",
            str(folder / "a.jpg"),
            "/" + "d" * 300,
        ),
        "XDG_CACHE_HOME": ("/dev/null", "/proc", "."),
        "XDG_DATA_HOME": ("/dev/null", "/proc", "~"),
        "TMPDIR": ("/nowhere", "/dev/null"),
        "TZ": ("Nowhere/Else", "\x01"),
        "QT_SCALE_FACTOR": ("2", "0.5", "x"),
        "PYTHONUTF8": ("0",),
        "NO_COLOR": ("1",),
    }
    for name in rng.sample(sorted(odd), rng.randrange(4)):
        env[name] = rng.choice(odd[name])
    if rng.random() < 0.1:
        del env["HOME"]
    if rng.random() < 0.1:
        del env["QT_QPA_PLATFORM"]
    return env, " ".join(f"{k}={v[:40]!r}" for k, v in env.items() if k in odd)


def limits(rng: random.Random) -> tuple[Callable[[], None], str]:
    """Return what limits a process before it begins, and its name."""
    memory, files, size = rng.choice(
        ((0, 0, 0),) * 6 + ((700_000_000, 0, 0), (0, 24, 0), (0, 0, 20_000))
    )

    def limit() -> None:
        if memory:
            resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
        if files:
            resource.setrlimit(resource.RLIMIT_NOFILE, (files, files))
        if size:
            signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
            resource.setrlimit(resource.RLIMIT_FSIZE, (size, size))

    return limit, f"memory {memory}, files {files}, size {size}"


def odd_printer(rng: random.Random) -> tuple[socket.socket, str]:
    """Return a server that answers with noise, too much, or nothing; and its address."""
    server = socket.create_server(("127.0.0.1", 0))

    def serve() -> None:
        with suppress(OSError):
            while True:
                client, _ = server.accept()
                with client, suppress(OSError):
                    client.settimeout(2)
                    client.recv(65_536)
                    way = rng.randrange(4)
                    if way == 0:
                        client.sendall(rng.randbytes(300))
                    elif way == 1:
                        body = bytes([2, 0, 0, 0, 0, 0, 0, 1]) + rng.randbytes(rng.randrange(400))
                        head = f"HTTP/1.1 200 OK\r\nContent-Length: {len(body)}\r\n\r\n"
                        client.sendall(head.encode() + body)
                    elif way == 2:
                        client.sendall(b"HTTP/1.1 200 OK\r\nContent-Length: 99999999\r\n\r\nx")

    threading.Thread(target=serve, daemon=True).start()
    return server, f"127.0.0.1:{server.getsockname()[1]}"


def judge(code: int, text: str, folder: Path, photos: dict[str, str]) -> Iterator[str]:
    """Yield what is wrong after an attack."""
    if code not in (0, 1, 2, 3, 130):
        yield f"it ended with {code}"
    for sign in ("Traceback (most", "Something went wrong", "Segmentation", "Fatal Python"):
        if sign in text:
            yield f"it said: {text[-700:]}"
            break
    for name, known in photos.items():
        if digest(folder / name) != known:
            yield f"{name} was changed"
    for path in folder.rglob(".*.part"):
        yield f"{path.name} was left"


def attack(count: int, seed: int) -> tuple[int, list[str]]:
    """Attack so many times; return the number that ended with a result, and what was wrong."""
    rng = random.Random(seed)
    wrong, ended = [], 0
    with tempfile.TemporaryDirectory() as kept:
        used = Path(kept) / "home"
        used.mkdir()
        prepared(Path(kept))
        env = {"PATH": os.environ["PATH"], "HOME": str(used), "PYTHONPATH": os.getcwd()}
        env["NUMBA_CACHE_DIR"] = os.environ.get("NUMBA_CACHE_DIR", "")
        subprocess.run(
            [*_COMMAND, *COMMANDS[3]], cwd=kept, env=env, check=True, capture_output=True
        )
        for number in range(count):
            with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as name:
                home, folder = Path(name) / "home", Path(name) / "photos"
                folder.mkdir()
                photos = prepared(folder)
                shutil.copytree(used, home)
                command = rng.choice(COMMANDS)
                env, odd = surroundings(home, folder, rng)
                harm = damage(home, folder, rng) if rng.random() < 0.7 else ""
                limit, limited = limits(rng)
                if command[0] in ("printers", "print") and rng.random() < 0.6:
                    _, env["CUPS_SERVER"] = odd_printer(rng)
                code, text = run(command, folder, env, limit)
                ended += code == 0
                what = f"{number}: {' '.join(command)} ({odd}; {harm}; {limited})"
                found = [f"{what}: {each}" for each in judge(code, text, folder, photos)]
                wrong += found
                print("\n".join([f"{number + 1} of {count}", *found]), flush=True)
    return ended, wrong


def run(
    command: tuple[str, ...], folder: Path, env: dict[str, str], limit: Callable[[], None]
) -> tuple[int, str]:
    """Run a command to its end; end a window, or what takes a minute. Return code and output."""
    process = subprocess.Popen(
        [*_COMMAND, *command], cwd=folder, env=env, stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT, stdin=subprocess.DEVNULL, preexec_fn=limit,
    )  # fmt: skip
    try:
        out, _ = process.communicate(timeout=4 if command[0] == "open" else 90)
    except subprocess.TimeoutExpired:
        process.terminate()
        begun = time.monotonic()
        out, _ = process.communicate(timeout=30)
        if time.monotonic() - begun > 5:
            return -1, "it did not end after SIGTERM"
        if command[0] != "open":
            return -1, "it took more than a minute and a half"
    return process.returncode, out.decode("utf-8", "replace")


def main() -> None:
    """Attack, and report."""
    asked = argparse.ArgumentParser(description=(__doc__ or "").splitlines()[0])
    asked.add_argument("--count", type=int, default=100)
    asked.add_argument("--seed", type=int, default=1)
    told = asked.parse_args()
    ended, wrong = attack(told.count, told.seed)
    print(f"{told.count} attacks: {ended} ended with a result, {len(wrong)} faults")
    print("\n".join(wrong))
    sys.exit(bool(wrong))


if __name__ == "__main__":
    main()
