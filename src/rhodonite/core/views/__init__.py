"""How work is shown: fields, conditions, formulas, scope, tints, groups and sums."""
