"""The model: open photos, their dockets and history; it knows no Qt."""
