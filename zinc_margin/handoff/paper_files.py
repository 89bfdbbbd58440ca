"""Write the test page that measures a paper, and read its scan."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from zinc_margin.handoff.formats.bands import plain_picture
from zinc_margin.handoff.names import check_goal
from zinc_margin.keeping.files import save_whole
from zinc_margin.keeping.own import OwnPaper, OwnPapers
from zinc_margin.measure import paper_page
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.photo import colour as colours
from zinc_margin.photo.paper_scan import Blur, measured_blur
from zinc_margin.photo.pixels import read_photo
from zinc_margin.pixels.paper_page import codes, draw_page

USUAL_PPI = 360
ENDINGS = (".tif", ".tiff", ".png")


def write_page(out: Path, sheet: PrintSize, ppi: float = USUAL_PPI) -> Path:
    """Write the test page on a sheet, whole or not at all.

    Parameters
    ----------
    out : Path
        A .tif or .png.
    ppi : float
        The printer's native resolution, so that its driver does not resample.
    """
    if out.suffix.lower() not in ENDINGS:
        raise BadRequest(f"{out.name}: the page must be a .tif or .png.")
    check_goal(Path(), out, False)
    wide, high = sorted((float(sheet.width_mm), float(sheet.height_mm)))
    if wide < paper_page.WIDTH + 6 or high < paper_page.HEIGHT + 6:
        raise BadRequest(f"{sheet.label} is too small for the page. Use A4, Letter or larger.")
    block = codes(draw_page(ppi))
    whole = np.full((round(high / 25.4 * ppi), round(wide / 25.4 * ppi), 3), 65535, np.uint16)
    top, left = ((whole.shape[at] - block.shape[at]) // 2 for at in (0, 1))
    whole[top : top + block.shape[0], left : left + block.shape[1]] = block
    form = "png" if out.suffix.lower() == ".png" else "tiff"
    eight = (whole // 257).astype(np.uint8)
    save_whole(out, plain_picture(eight, form, ppi, colours.srgb().icc))
    return out


def read_scan(path: Path, page_ppi: float = USUAL_PPI) -> Blur:
    """Measure a paper from a scan of the page.

    Parameters
    ----------
    page_ppi : float
        Resolution of the printed page.
    """
    photo = read_photo(path, measured=False)
    return measured_blur(photo.codes[..., :3].mean(2, dtype=np.float32), page_ppi)


def blur_sentence(blur: Blur) -> str:
    """Return the measurement as a sentence."""
    if blur.too_fine:
        return (
            f"Too fine for this scan: the paper blurs by about {blur.sigma_mm:.3f} mm or "
            f"less, which cannot be measured at {blur.scan_ppi:.0f} ppi. Scan at a higher "
            "resolution."
        )
    return (
        f"The paper blurs by {blur.sigma_mm:.3f} mm ({blur.confidence:.0%} confidence; its "
        f"edges differ by {blur.spread:.0%})."
    )


def keep_paper(name: str, blur: Blur, own: OwnPapers | None = None) -> OwnPaper:
    """Save a measured paper as a paper of the user.

    Raises
    ------
    BadRequest, CannotDo
        Also if the scan could not resolve the blur.
    """
    from fractions import Fraction

    if blur.too_fine:
        raise BadRequest(f"{blur_sentence(blur)} Nothing was saved.")
    paper = OwnPaper(name, Fraction(str(blur.sigma_mm)), Fraction(100), None)
    (own or OwnPapers()).keep(paper)
    return paper
