"""Pages of what the customer is left with."""
