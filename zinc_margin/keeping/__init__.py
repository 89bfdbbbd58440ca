"""Files written whole or not at all, and a person's own things between starts."""
