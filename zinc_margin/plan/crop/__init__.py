"""Line 3: the part of the picture to print."""
