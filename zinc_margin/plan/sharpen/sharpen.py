"""The Sharpen line of a plan: sharpening for paper, pixels and distance."""

from __future__ import annotations

from zinc_margin.docket.sharpen import SharpenLine
from zinc_margin.measure.kernels import kernels
from zinc_margin.plan.parts import PixelsPart, Sharpening, SizePart
from zinc_margin.plan.photo.photo import PhotoPart
from zinc_margin.plan.sharpen.eye import MOST, restore
from zinc_margin.plan.sharpen.paper import blur_of
from zinc_margin.plan.sharpen.photograph import Chain, wanted_amount
from zinc_margin.plan.sharpen.restraint import coring, halo_limit, usual_breadth

_USUAL = 0.5
"""A typical amount: strength over 100 % adds at least its share of this."""


def sharpen_part(
    line: SharpenLine, photo: PhotoPart, sized: SizePart, resampled: PixelsPart
) -> Sharpening | None:
    """Return the Sharpen line's part of a plan; None without sharpening.

    Parameters
    ----------
    photo, sized, resampled : PhotoPart, SizePart, PixelsPart
        Parts of the previous lines.

    Raises
    ------
    BadRequest
        If the paper is unknown and no blur is given.
    """
    return (
        _sharpening(line, photo, sized, resampled, resampled.pixels.lower_ppi) if line.on else None
    )


def _sharpening(
    line: SharpenLine, photo: PhotoPart, sized: SizePart, resampled: PixelsPart, output_ppi: float
) -> Sharpening:
    pixels, measured = resampled.pixels, photo.measured
    blur = blur_of(line, sized, output_ppi)
    method = pixels.method
    if method is not None and not kernels()[method].mixes:
        method = None
    breadth = usual_breadth(measured) if line.breadth is None else float(line.breadth)
    core = coring(measured, float(pixels.scale), pixels.repair)
    restored = restore(
        blur.sigma_mm,
        blur.near_mm,
        output_ppi,
        resampled.true_ppi,
        method,
        breadth,
        1.0,
        pixels.hardness,
        blur.far_mm,
    )
    amount, bound, crispness, edges = restored.amount, restored.bound, None, None
    if measured is not None and measured.bands is not None:
        chain = Chain(
            measured.bands,
            measured.noise,
            method,
            float(pixels.scale),
            resampled.coding,
            blur.sigma_mm,
            float(resampled.effective_ppi),
            restored.sigma_mm,
            breadth,
        )
        wanted = wanted_amount(
            chain, blur.near_mm, blur.far_mm, MOST, sized.distance_said or sized.maker.for_screen
        )
        amount, bound = _scale_by_strength(wanted.amount, line), wanted.bound
        crispness = (
            wanted.near.crispness(0),
            wanted.near.crispness(amount),
            wanted.far.crispness(0),
            wanted.far.crispness(amount),
        )
        edges = wanted.near.all_edges(0), wanted.near.all_edges(amount)
    else:
        amount = _scale_by_strength(amount, line)
    return Sharpening(
        paper=blur.paper,
        process=blur.process,
        paper_mm=blur.sigma_mm,
        sigma_mm=restored.sigma_mm,
        sigma_px=restored.sigma_mm / 25.4 * output_ppi,
        amount=amount,
        breadth=breadth,
        acutance_before=restored.acutance_before,
        acutance_after=restored.acutance_before + amount * restored.gain,
        bound=bound,
        crispness=crispness,
        edges=edges,
        halo=halo_limit(measured) if line.halo is None else float(line.halo),
        noise=core if line.noise is None else float(line.noise),
        shadows=float(line.shadows) / 100,
        highlights=float(line.highlights) / 100,
    )


def _scale_by_strength(amount: float, line: SharpenLine) -> float:
    """Return an amount scaled by the line's strength; over 100 % the change is always visible."""
    strength = float(line.strength) / 100
    if strength <= 1:
        return amount * strength
    return amount + (strength - 1) * max(amount, _USUAL)
