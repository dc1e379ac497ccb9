"""For the customer: a sheet in their language, on paper or by a link, and a label for the lid."""
