"""The window itself: its words, rack, benches, messages and keys."""
