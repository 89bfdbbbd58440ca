"""Line 7, the file: colours, bytes, watermark, name."""
