"""Files written whole or not at all, and the user's own things between starts."""
