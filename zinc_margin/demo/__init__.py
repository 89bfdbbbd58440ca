"""The demo: a made-up commission, Tidewater Kilns, drawn by sums."""
