"""Line 3: which part of the picture is printed."""
