"""The resampling alone, enlarging, reducing and turned, against Pillow's 8-bit LANCZOS."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from fractions import Fraction

from common import best, photo, picture, say
from PIL import Image

from zinc_margin.docket.docket import Docket
from zinc_margin.keeping.job import IDLE
from zinc_margin.measure.sizes import parse_size
from zinc_margin.pixels.render import BAND_ROWS, TILE_COLUMNS, Renderer
from zinc_margin.plan.build import plan

SOURCE = photo(picture())
IMAGE = Image.fromarray(SOURCE.codes)


def rendered(ppi: int, turn: int = 0) -> tuple[Renderer, tuple[int, int]]:
    lines = Docket()
    made = plan(
        SOURCE.facts,
        replace(
            lines,
            size=replace(lines.size, size=parse_size("54x36cm"), ppi=Fraction(ppi)),
            crop=replace(lines.crop, turn=Fraction(turn)),
            pixels=replace(lines.pixels, choice="resample", method="lanczos"),
            sharpen=replace(lines.sharpen, on=False),
        ),
    )
    renderer = Renderer(SOURCE, made)
    renderer.region(0, 0, 64, 64)
    return renderer, (made.pixels.width, made.pixels.height)


def kernel_alone(renderer: Renderer, size: tuple[int, int]) -> Callable[[], None]:
    """The two passes in 32-bit floats, from stored codes; no ringing limit, nothing encoded."""
    width, height = size
    places = [(x, y) for y in range(0, height, BAND_ROWS) for x in range(0, width, TILE_COLUMNS)]
    table = renderer._tables.work

    def tile(place: tuple[int, int]) -> None:
        left, top = place
        sides = min(TILE_COLUMNS, width - left), min(BAND_ROWS, height - top)
        renderer._straight("lanczos", left, top, *sides, table, IDLE)

    def run() -> None:
        with ThreadPoolExecutor(2) as pool:
            list(pool.map(tile, places))

    run()
    for key, axis in list(renderer._axes.items()):
        renderer._axes[key] = replace(axis, near=(0, 0))
    return run


def drain(renderer: Renderer) -> None:
    for _ in renderer.bands():
        pass


if __name__ == "__main__":
    renderer, size = rendered(508)
    pillow = best(lambda: IMAGE.resize(size, Image.Resampling.LANCZOS))
    say(
        "bare kernel 24 → 78 MP, float32",
        best(kernel_alone(renderer, size)),
        pillow,
        "Pillow",
        0.45,
    )
    for name, ppi in (
        ("enlarge 24 → 78 MP, limit and 8-bit codes", 508),
        ("reduce 24 → 5 MP in linear light", 130),
    ):
        renderer, size = rendered(ppi)
        other = best(lambda size=size: IMAGE.resize(size, Image.Resampling.LANCZOS))
        say(name, best(lambda renderer=renderer: drain(renderer)), other, "Pillow")
    level, _ = rendered(300)
    turned, _ = rendered(300, turn=7)
    say(
        "turned by 7°", best(lambda: drain(turned), 1), best(lambda: drain(level), 1), "unturned", 8
    )
