"""What a unit really does, and what was wanted of it: events, output, replay, and what follows from them."""
