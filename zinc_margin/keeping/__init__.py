"""Files written whole or not at all, and the user's data between starts."""
