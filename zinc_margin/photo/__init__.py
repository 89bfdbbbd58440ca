"""Open formats in: what a photo is, its pixels as stored, and its colours."""
