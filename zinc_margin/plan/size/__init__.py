"""Line 2: how large a print is, at which resolution, seen from where, and its grade."""
