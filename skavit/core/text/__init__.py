"""Plan values in words, and typed text read back: sentences, lines, coordinates."""
