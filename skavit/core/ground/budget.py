"""How much work a search may do. It is counted in steps, never in seconds, so that the same plan gives the same result."""


class Budget:
    """So many steps; once they are spent, ``ended`` stays true and nothing more is granted."""

    def __init__(self, steps: int) -> None:
        self.steps = self.left = steps
        self.ended = False

    def take(self, steps: int = 1) -> bool:
        """Spend some steps; false where they are more than are left."""
        if self.ended or steps > self.left:
            self.ended = True
            return False
        self.left -= steps
        return True
