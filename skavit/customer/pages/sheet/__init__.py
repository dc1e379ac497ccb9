"""The customer's sheet as the crew sees it, on paper, and the links to it."""
