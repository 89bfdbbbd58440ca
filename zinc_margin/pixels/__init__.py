"""The numeric engine: from stored pixels and a plan to finished bands."""

from zinc_margin.pixels import compiled as compiled  # before anything that Numba compiles
