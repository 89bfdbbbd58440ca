"""Line 7: what is written: colours, bytes, watermark, name."""
