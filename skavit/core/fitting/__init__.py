"""From what is wanted to what is keyed in: `fit`, and what it tries and measures."""
