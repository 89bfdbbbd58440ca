"""Line 4: keep the pixels or resample them, by which method, and what is repaired first."""
