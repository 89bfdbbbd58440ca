"""The gate: outside input becomes typed data, or one sentence.

Files, environment variables and answers of other programs are outside input. A declaration made
of the readers in `values` states what a piece of input may contain; `files` and `environment` get
the input itself. Only these modules parse JSON or look at the environment; data past the gate can
be trusted. Printer answers have their own grammar (`handoff.ipp`), pictures theirs (`photo`).
"""
