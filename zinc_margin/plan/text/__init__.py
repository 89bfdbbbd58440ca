"""Every sentence about a plan, in the current units."""
