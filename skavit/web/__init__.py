"""What pages share: requests, forms, errors, secret links."""
