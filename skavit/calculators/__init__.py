"""Quick calculators: one page each, inputs in the address, no site needed."""
