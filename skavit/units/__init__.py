"""Units: the devices, their plans as revisions, and the pages on which they are planned and keyed."""
