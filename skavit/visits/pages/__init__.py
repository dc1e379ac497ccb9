"""Pages of visits and of what leads to one."""
