"""Line 5: sharpening to compensate paper, pixels and distance; grain; the test strip."""
