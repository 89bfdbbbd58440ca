"""Line 1: what was found in a photo's pixels, and from where on it matters."""
