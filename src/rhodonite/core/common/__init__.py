"""What two areas or more use: errors, ordering keys, days, durations, working time and the bounds of a plan."""
