"""The numeric engine: from stored pixels and a plan to finished bands."""

# must be set before Numba compiles anything
from zinc_margin.pixels import loop_cache as loop_cache
