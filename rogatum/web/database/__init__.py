"""SQLite as Django has it, with a watch on the lock: how long each transaction keeps others from writing, and whose it is."""
