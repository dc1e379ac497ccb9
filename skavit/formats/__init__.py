"""How numbers are written in each language: everywhere with a point, as they are typed and as displays show them."""
