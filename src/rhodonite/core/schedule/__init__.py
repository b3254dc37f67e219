"""The plan in time: network, passes, ripple, drafts, agreed plans, replanning and soundness."""
