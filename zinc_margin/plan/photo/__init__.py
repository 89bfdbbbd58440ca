"""Line 1: findings in a photo's pixels, and their thresholds."""
