"""Every sentence that is said about a plan, in the units asked for."""
