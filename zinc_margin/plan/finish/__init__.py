"""Line 6: the sheet, its sides, lines and words; pieces; several prints on one sheet."""
