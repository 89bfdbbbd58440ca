"""The window: margin, bench and rack; the only place that knows Qt."""
