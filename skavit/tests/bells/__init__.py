"""A fourth trade, in tests alone: bells that ring for some seconds at given times each day."""
