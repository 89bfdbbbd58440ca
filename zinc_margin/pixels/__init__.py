"""The numeric engine: from stored pixels and a plan to finished bands."""
