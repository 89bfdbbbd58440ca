"""Line 2: print size, resolution, viewing distance and grade."""
