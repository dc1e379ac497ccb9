"""What a unit does and what was wanted: events, outputs, replay."""
