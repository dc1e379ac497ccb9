"""What the customer is left with: a sheet in their language, on paper or by a link, and the code in the lid."""
