"""What all routers use: the actor of a request, bounds of what comes in, problems, and live updates."""
