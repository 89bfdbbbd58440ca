"""Planning: every exact number of a print, from facts and docket."""
