"""The board: where a slip stands, and the limits of what stands there."""
