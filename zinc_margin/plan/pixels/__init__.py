"""Line 4: keep the pixels or resample them; method and repairs."""
