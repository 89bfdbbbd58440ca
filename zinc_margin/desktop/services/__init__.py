"""Work behind the window: opening, making, drafts, the demo, and lanes for threads."""
