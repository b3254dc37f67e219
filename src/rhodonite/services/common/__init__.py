"""What every use carries: who acts, the change and its journal, the plan in memory, and the steps after a change."""
