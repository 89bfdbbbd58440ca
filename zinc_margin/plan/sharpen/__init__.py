"""Line 5: sharpening to compensate paper, pixels and distance; the test strip."""
