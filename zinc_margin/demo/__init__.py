"""The demo: an invented commission, Tidewater Kilns, with generated pictures."""
