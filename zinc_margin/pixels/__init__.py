"""The numeric engine: from stored pixels and a plan to finished bands."""

from zinc_margin.pixels import loop_cache as loop_cache  # before anything that Numba compiles
