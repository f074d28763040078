"""How fast and how large Wander is: `python -m bench` prints the table, `python -m bench.shots` takes the pictures."""
