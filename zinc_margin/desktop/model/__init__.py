"""The model: open photos with their dockets and history, without Qt."""
