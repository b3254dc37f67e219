"""Tasks: what they are, the tree, what follows from a change, the workflow, and what a project defines itself."""
