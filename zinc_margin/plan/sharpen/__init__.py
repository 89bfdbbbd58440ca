"""Line 5: how much sharpening makes up for paper, pixels and distance; grain; the test strip."""
