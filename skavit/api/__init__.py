"""What other programs of a crew read: JSON, by a key of the crew."""
