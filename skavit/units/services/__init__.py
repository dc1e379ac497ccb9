"""All that changes units and their plans: permission, transaction and record stand here, and nowhere else."""
