"""Printing: real peers from the system's packages where they are, and IPP's bytes everywhere."""

from __future__ import annotations

import json
import os
import shutil
import socket
import subprocess
import tempfile
import threading
import time
from fractions import Fraction as F
from pathlib import Path

import pikepdf
import pytest
from hypothesis import given
from hypothesis import strategies as st

from zinc_margin.commands import main
from zinc_margin.handoff import ipp, printing
from zinc_margin.handoff.printing import Wish, beyond_edges, follow, laid_on, submit
from zinc_margin.handoff.queues import (
    Medium,
    Queue,
    find_queue,
    medium_for,
    papers_of,
    queues,
    wants,
)
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import BadRequest, Cancelled, CannotDo
from zinc_margin.measure.sizes import parse_size

EDGES = (F("6.35"), F("3.4"), F("6.35"), F("3.4"))
A4 = Medium(F(210), F(297), EDGES)
A4_BARE = Medium(F(210), F(297), (F(0),) * 4)
CARD = Medium(F("101.6"), F("152.4"), (F(3),) * 4, "photographic-glossy")
DESK = Queue("desk", "Desk", "ready", (), True, (A4, A4_BARE, CARD), kinds=("photographic-glossy",))


# bytes


@given(
    st.lists(
        st.one_of(
            st.integers(-(2**31), 2**31 - 1),
            st.booleans(),
            st.text("abc-é", max_size=20),
            st.dictionaries(
                st.text("xyz-", min_size=1), st.integers(0, 99999), min_size=1, max_size=3
            ),
        ),
        min_size=1,
        max_size=4,
    )
)
def test_what_is_sent_can_be_read(values):
    body = ipp.request(ipp.GET_JOB, "ipp://localhost/printers/desk", job={"told": values})
    job = next(held for kind, held in ipp.parse(body).groups if kind == JOB)
    told = [{k: [v] for k, v in one.items()} if isinstance(one, dict) else one for one in values]
    assert job["told"] == told


@given(st.binary(max_size=80))
def test_what_is_no_ipp_is_one_sentence(data):
    try:
        ipp.parse(b"\2\0\0\0\0\0\0\1" + data)
    except CannotDo as why:
        assert "not valid IPP" in str(why)


def test_deep_nests_are_refused():
    begin = bytes([0x34, 0, 0, 0, 0])
    deep = b"\2\0\0\0\0\0\0\1\4" + b"\x34\0\1x\0\0" + (b"\x4a\0\0\0\1y" + begin) * 200
    with pytest.raises(CannotDo):
        ipp.parse(deep)


# papers


def test_the_paper_is_the_one_asked_for_else_as_large_else_the_smallest():
    assert medium_for(DESK, (F(100), F(150))) is CARD
    assert medium_for(DESK, (F(297), F(210))) is A4_BARE  # turned; without edges it loses nothing
    assert medium_for(DESK, (F(100), F(150)), parse_size("A4")) is A4_BARE
    assert medium_for(DESK, (F(100), F(100)), borderless=True) is A4_BARE
    with pytest.raises(BadRequest, match=r"cannot print a page of 42 × 29.7 cm.*A4"):
        medium_for(DESK, (F(420), F(297)))


def test_what_reaches_into_blank_edges_is_measured():
    page = F(210), F(297)
    assert beyond_edges((F(0), F(0), *page), page, A4) == F("6.35")
    assert beyond_edges((F(0), F(0), *page), page, A4_BARE) == 0
    assert beyond_edges((F("3.4"), F("6.35"), F("203.2"), F("284.3")), page, A4) == 0
    # on its side, the paper's top edge lies at the picture's side
    wide = F(297), F(210)
    assert beyond_edges((F("6.35"), F("3.4"), F("284.3"), F("203.2")), wide, A4) == 0
    assert beyond_edges((F(0), F("3.4"), F(297), F("203.2")), wide, A4) == F("6.35")
    # in the middle of a larger paper it is far from them
    assert beyond_edges((F(0), F(0), F(150), F(100)), (F(150), F(100)), A4) == 0


def test_a_page_is_laid_in_the_middle_unscaled(tmp_path):
    with pikepdf.new() as pdf:
        pdf.add_blank_page(page_size=(283.464567, 425.19685))
        pdf.save(tmp_path / "page.pdf")
    laid_on(tmp_path / "page.pdf", A4, tmp_path / "laid.pdf")
    with pikepdf.open(tmp_path / "laid.pdf") as pdf:
        box = [float(each) for each in pdf.pages[0].mediabox]
        assert box[2:] == pytest.approx([595.2756, 841.8898], abs=1e-3)
        content = pdf.pages[0].Contents.read_bytes().split()
        assert [float(each) for each in content[1:7]] == pytest.approx(
            [1, 0, 0, 1, (595.2756 - 283.4646) / 2, (841.8898 - 425.1969) / 2], abs=1e-3
        )
        assert pdf.Root.ViewerPreferences.PrintScaling == "/None"


def test_converted_colours_are_left_alone(monkeypatch, tmp_path):
    sent = []

    def answer(path, body, document=None):
        sent.append(body)
        return ipp.Answer(0, [(UNSUPPORTED, {"media-col": [None]}), (JOB, {"job-id": [3]})])

    monkeypatch.setattr(printing, "send", answer)
    monkeypatch.setattr(printing, "check_ready", lambda queue: None)
    for done in (False, True):
        submit(DESK, tmp_path / "page.pdf", "kiln", Wish(A4, colours_done=done))
    assert b"cm-calibration" not in sent[0] and b"cm-calibration" in sent[1]
    assert all(b"print-scaling" in body for body in sent)


def test_what_a_printer_wants_is_said_in_words():
    assert wants(("media-empty-error",)) == "it is out of paper: add some"
    assert wants(("none", "cups-waiting-for-job-completed")) is None


# without a printing system


def test_without_a_printing_system_it_is_one_sentence(monkeypatch, capsys):
    with socket.socket() as taken:  # a port that nobody listens on
        taken.bind(("127.0.0.1", 0))
        monkeypatch.setenv("CUPS_SERVER", f"127.0.0.1:{taken.getsockname()[1]}")
        assert main(["printers"]) == 1
    assert "(CUPS) does not answer" in capsys.readouterr().err


def test_a_server_that_talks_something_else_is_one_sentence(monkeypatch):
    with socket.create_server(("127.0.0.1", 0)) as server:
        monkeypatch.setenv("CUPS_SERVER", f"127.0.0.1:{server.getsockname()[1]}")

        def answer():
            with server.accept()[0] as client:
                client.recv(4096)
                client.sendall(b"HTTP/1.1 200 OK\r\nContent-Length: 4\r\n\r\nkiln")

        thread = threading.Thread(target=answer)
        thread.start()
        with pytest.raises(CannotDo, match="not valid IPP"):
            queues()
        thread.join()


# real peers, on loopback

NEEDED = ("cupsd", "ippeveprinter", "lpadmin")
FILES = """User {user}
Group {user}
ServerRoot {at}/root
CacheDir {at}/cache
RequestRoot {at}/spool
TempDir {at}/spool
StateDir {at}/run
AccessLog {at}/log/access
ErrorLog {at}/log/error
PageLog {at}/log/page
"""
CONF = """Listen 127.0.0.1:{port}
Browsing No
DefaultAuthType None
WebInterface No
<Location />
Order allow,deny
Allow all
</Location>
<Policy default>
<Limit All>
Order allow,deny
Allow all
</Limit>
</Policy>
"""


def free_port():
    with socket.socket() as one:
        one.bind(("127.0.0.1", 0))
        return one.getsockname()[1]


def listening(port, seconds=20):
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        with socket.socket() as one:
            if one.connect_ex(("127.0.0.1", port)) == 0:
                return True
        time.sleep(0.1)
    return False


def answers(service):
    """Whether a daemon is at its socket, which may outlive it."""
    with socket.socket(socket.AF_UNIX) as one:
        return one.connect_ex(service) == 0


@pytest.fixture(scope="module")
def printer(tmp_path_factory):
    """A queue of a real scheduler, and a folder in which its simulated printer keeps pages."""
    path = os.environ.get("PATH", "") + ":/usr/sbin"
    tools = {name: shutil.which(name, path=path) for name in NEEDED}
    missing = [name for name, at in tools.items() if at is None]
    if missing or os.geteuid() != 0:
        pytest.skip(f"NOT TRIED against a real printing system: {', '.join(missing) or 'not root'}")
    # the scheduler's own filters are not root, and have to come to their files
    held = tempfile.TemporaryDirectory(prefix="kiln-cups-")
    base = Path(held.name)
    base.chmod(0o755)
    for name in ("root", "cache", "spool", "run", "log"):
        (base / name).mkdir()
    subprocess.run(["chown", "-R", "lp:lp", str(base)], check=True)
    pages = tmp_path_factory.mktemp("pages")
    port, to = free_port(), free_port()
    (base / "files.conf").write_text(FILES.format(at=base, user="lp"))
    (base / "cupsd.conf").write_text(CONF.format(port=port))
    for service, note, needed in (
        ("/run/dbus/system_bus_socket", "/run/dbus/pid", ["dbus-daemon", "--system", "--fork"]),
        (
            "/run/avahi-daemon/socket",
            "/run/avahi-daemon/pid",
            ["avahi-daemon", "--no-rlimits", "-D"],
        ),
    ):
        if not answers(service) and shutil.which(needed[0], path=path):
            Path(note).unlink(missing_ok=True)  # of one that was killed
            os.makedirs("/run/dbus", exist_ok=True)
            subprocess.run(needed, capture_output=True, check=False, env={"PATH": path})
    kept = [
        subprocess.Popen(
            [
                tools["ippeveprinter"],
                "-p",
                str(to),
                "-f",
                "application/pdf",
                "-k",
                "-d",
                str(pages),
                "-n",
                "localhost",
                "-s",
                "60,60",
                "Kiln",
            ],
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        ),
        subprocess.Popen(
            [tools["cupsd"], "-f", "-c", str(base / "cupsd.conf"), "-s", str(base / "files.conf")],
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        ),
    ]
    try:
        if not (listening(to) and listening(port)):
            pytest.skip("NOT TRIED against a real printing system: it does not start here")
        env = {"PATH": path, "CUPS_SERVER": f"127.0.0.1:{port}"}
        add = [
            tools["lpadmin"],
            "-p",
            "kiln",
            "-E",
            "-v",
            f"ipp://localhost:{to}/ipp/print",
            "-m",
            "everywhere",
        ]
        done = subprocess.run(add, env=env, capture_output=True, text=True, check=False)
        if done.returncode:
            pytest.skip(f"NOT TRIED against a real printing system: {done.stderr.strip()}")
        with pytest.MonkeyPatch.context() as patch:
            patch.setenv("CUPS_SERVER", f"127.0.0.1:{port}")
            end = time.monotonic() + 20
            while not find_queue("kiln").media:  # a queue takes a moment to know its printer
                if time.monotonic() > end:
                    pytest.skip("NOT TRIED against a real printing system: it tells no papers")
                time.sleep(0.2)
        yield f"127.0.0.1:{port}", pages
    finally:
        for one in kept:
            one.terminate()
            one.wait(20)
        held.cleanup()


@pytest.fixture
def on_system(printer, monkeypatch):
    server, pages = printer
    monkeypatch.setenv("CUPS_SERVER", server)
    for old in pages.iterdir():
        old.unlink()
    return pages


def picture_in(pdf):
    """Where the picture lies on the page that came, in mm, and its pixels."""
    with pikepdf.open(pdf) as opened:
        page = opened.pages[0]
        box = [float(each) * 25.4 / 72 for each in page.mediabox]
        place, form = [1.0, 0.0, 0.0, 1.0, 0.0, 0.0], page
        while True:
            words = (
                form.Contents.read_bytes().split()
                if "/Contents" in form
                else form.read_bytes().split()
            )
            for at, word in enumerate(words):
                if word == b"cm":
                    place = product([float(each) for each in words[at - 6 : at]], place)
            (inner,) = form.Resources.XObject.values()
            if inner.Subtype == "/Image":
                sides = [
                    abs(each) * 25.4 / 72 for each in (place[0] or place[1], place[3] or place[2])
                ]
                return box, sides, (int(inner.Width), int(inner.Height))
            if "/Matrix" in inner:
                place = product([float(each) for each in inner.Matrix], place)
            form = inner


def product(one, other):
    a, b, c, d, e, f = one
    g, h, i, j, k, m = other
    return [
        a * g + b * i,
        a * h + b * j,
        c * g + d * i,
        c * h + d * j,
        e * g + f * i + k,
        e * h + f * j + m,
    ]


def test_a_queue_tells_its_papers_and_edges(on_system, capsys):
    (queue,) = queues()
    assert queue.name == "kiln" and queue.state == "ready"
    told = find_queue("kiln")
    a4 = medium_for(told, (F(200), F(250)), parse_size("A4"))
    assert a4.width_mm == 210 and any(a4.edges_mm)
    assert told.trays and told.qualities and told.resolutions
    assert main(["printers", "kiln"]) == 0
    said = capsys.readouterr().out
    assert "A4" in said and "unprintable" in said and "dots per inch" in said
    assert main(["print", "x.pdf", "--on", "oven"]) == 2
    assert "Choose one of: kiln" in capsys.readouterr().err


def until_empty(pages, seconds=30):
    """Let a print that nobody follows arrive, and put it away."""
    end = time.monotonic() + seconds
    while not list(pages.glob("*.pdf")) and time.monotonic() < end:
        time.sleep(0.1)
    time.sleep(0.5)
    for page in pages.glob("*.pdf"):
        page.unlink()


def test_a_print_arrives_at_its_true_size(on_system, jpeg, capsys):
    line = [
        "print",
        str(jpeg),
        "--size",
        "15x10cm",
        "--ppi",
        "100",
        "--on",
        "kiln",
        "--paper-size",
        "A4",
    ]
    assert main([*line, "--json", "--no-wait"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["printer"] == "kiln" and told["paper"] == "A4" and told["job"] > 0
    until_empty(on_system)
    assert main(line) == 0, capsys.readouterr().err
    said = capsys.readouterr().out
    assert "not scaled" in said and said.rstrip().endswith("Printed.")
    (came,) = on_system.glob("*.pdf")
    box, sides, pixels = picture_in(came)
    assert sorted(box[2:]) == pytest.approx([210, 297], abs=0.05)
    assert sorted(sides) == pytest.approx([100, 150], abs=0.01)
    assert max(pixels) == 591


def test_sheets_with_several_prints_arrive(on_system, jpeg, capsys):
    line = ["together", str(jpeg), "--prints", "three 13x18 on A4", "--on", "kiln", "--ppi", "75"]
    assert main([*line, "--no-captions"]) == 0, capsys.readouterr().err
    assert "3 prints on 2 sheets" in capsys.readouterr().out
    (came,) = on_system.glob("*.pdf")
    with pikepdf.open(came) as pdf:
        assert len(pdf.pages) == 2
    box, sides, _ = picture_in(came)
    assert sorted(box[2:]) == pytest.approx([210, 297], abs=0.05)
    assert sorted(sides) == pytest.approx([210, 297], abs=0.01)


def test_blank_edges_that_would_take_of_the_picture_are_refused(on_system, jpeg, capsys):
    line = ["print", str(jpeg), "--size", "A4", "--ppi", "60", "--on", "kiln", "--paper-size", "A4"]
    assert main(line) == 2
    assert "unprintable edges of kiln on A4" in capsys.readouterr().err
    assert list(on_system.iterdir()) == []
    # what is printed nobody has to wait for here
    assert main([*line, "--anyway", "--no-wait"]) == 0
    assert main([*line, "--fit", "border", "--border", "12mm", "--no-wait"]) == 0
    until_empty(on_system)


def test_a_print_that_the_system_cannot_make_ready_ends_in_a_sentence(monkeypatch):
    job = {"job-state": [6], "job-printer-state-message": ["Filter failed"]}
    sent = []

    def answer(path, body, document=None):
        sent.append(body[2:4])
        return ipp.Answer(0, [(JOB, job)])

    monkeypatch.setattr(printing, "send", answer)
    monkeypatch.setattr(printing, "find_queue", lambda name: DESK)
    with pytest.raises(CannotDo, match="cancelled the print: Filter failed"):
        follow(DESK, 3, lambda sentence: None)
    assert sent[-1] == bytes([0, ipp.CANCEL_JOB])


JOB, PRINTER, UNSUPPORTED = 0x02, 0x04, 0x05
"""Kinds of groups (RFC 8010, 3.5.1)."""


@pytest.mark.parametrize("status", [0x0406, 0x0407])
def test_a_system_that_forgets_its_prints_is_not_taken_for_a_print(monkeypatch, status):
    answers = [ipp.Answer(0, [(JOB, {"job-state": [5]})]), ipp.Answer(status)]
    monkeypatch.setattr(printing, "send", lambda *asked: answers.pop(0))
    monkeypatch.setattr(printing, "find_queue", lambda name: DESK)
    told = []
    follow(DESK, 3, told.append)
    assert "no longer knows this print" in told[-1] and "Printed." not in told


@pytest.mark.parametrize(
    "job", [{}, {"job-state": ["9"]}, {"job-state": []}, {"job-state": [{"x": [9]}]}]
)
def test_an_answer_without_a_state_is_no_end(monkeypatch, job):
    monkeypatch.setattr(
        printing,
        "send",
        lambda *asked: ipp.Answer(0, [(UNSUPPORTED, {"job-state": [9]}), (JOB, job)]),
    )
    monkeypatch.setattr(printing, "_EVERY_S", 0.001)
    told = []
    with pytest.raises(CannotDo, match="does not say how the print ended"):
        follow(DESK, 3, told.append)
    assert "Printed." not in told


def test_a_title_has_no_controls(monkeypatch, tmp_path):
    sent = []

    def answer(path, body, document=None):
        sent.append(body)
        return ipp.Answer(0, [(JOB, {"job-id": [3]})])

    monkeypatch.setattr(printing, "send", answer)
    submit(DESK, tmp_path / "x.pdf", "kiln\n\x1b[2J" + "é" * 200, Wish(DESK.media[0]))
    (held,) = (held for kind, held in ipp.parse(sent[0]).groups if kind == 1)
    name = held["job-name"][0]
    assert "\x1b" not in name and "\n" not in name and len(name.encode()) <= 255


VALUES = st.recursive(
    st.none() | st.booleans() | st.integers(-(2**31), 2**31 - 1) | st.text(max_size=8)
    | st.tuples(st.integers(), st.integers(), st.sampled_from(("dpi", "dpcm")))
    | st.tuples(st.integers(), st.integers()),
    lambda inner: st.dictionaries(
        st.sampled_from(("media-size", "x-dimension", "y-dimension", "media-top-margin", "media-type")),
        st.lists(inner, max_size=2),
        max_size=3,
    ),
    max_leaves=8,
)  # fmt: skip
NAMES = (
    "printer-name", "printer-info", "printer-state", "printer-state-reasons",
    "printer-is-accepting-jobs", "media-col-database", "media-type-supported",
    "media-source-supported", "print-quality-supported", "printer-resolution-supported",
    "print-color-mode-supported",
)  # fmt: skip


@given(
    st.lists(
        st.tuples(
            st.sampled_from((1, JOB, PRINTER, UNSUPPORTED)),
            st.dictionaries(st.sampled_from(NAMES), st.lists(VALUES, max_size=3)),
        ),
        max_size=4,
    )
)
def test_whatever_a_printer_answers_the_others_are_listed(groups):
    good = (PRINTER, {"printer-name": ["kiln"], "printer-state": [3]})
    answer = ipp.Answer(0, [*groups, good])
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("zinc_margin.handoff.queues.send", lambda *asked: answer)
        listed = queues()
        assert "kiln" in [queue.name for queue in listed]
        for queue in (*listed, find_queue("kiln")):
            papers_of(queue)
            assert all(min(each.width_mm, each.height_mm) > 0 for each in queue.media)
            assert "\x1b" not in queue.title


@pytest.mark.parametrize("gone", ["the system", "the printer"])
def test_a_printer_that_vanishes_between_two_sheets_is_one_sentence(monkeypatch, gone):
    def answer(*asked):
        if gone == "the system" and told:
            raise CannotDo("The printing service does not answer.")
        return ipp.Answer(0, [(JOB, {"job-state": [5]})])

    def find(name):
        if told:
            raise BadRequest("There is no printer kiln here.")
        return DESK

    told = []
    monkeypatch.setattr(printing, "send", answer)
    monkeypatch.setattr(printing, "find_queue", find)
    monkeypatch.setattr(printing, "_EVERY_S", 0.001)
    with pytest.raises(CannotDo, match="no longer answers; sheets that it already has"):
        follow(DESK, 3, told.append)
    assert len(told) == 1 and told[0].startswith("Printing on")


def test_a_job_is_followed_and_can_be_cancelled(on_system, jpeg, tmp_path):
    with pikepdf.new() as pdf:
        pdf.add_blank_page(page_size=(200, 200))
        pdf.save(tmp_path / "page.pdf")
    queue = find_queue("kiln")
    wish = Wish(medium_for(queue, (F(70), F(70)), parse_size("A4")), copies=40)
    laid_on(tmp_path / "page.pdf", wish.medium, tmp_path / "laid.pdf")
    number = submit(queue, tmp_path / "laid.pdf", "kiln", wish)
    stop, told = Job(), []
    stop.cancel()
    with pytest.raises(Cancelled):
        follow(queue, number, told.append, stop)
    with pytest.raises(CannotDo, match="cancelled at the printer"):
        follow(queue, number, told.append)
    with pytest.raises(BadRequest):
        submit(queue, tmp_path / "laid.pdf", "kiln", Wish(wish.medium, copies=0))
    assert printing.MOST_COPIES == 999
