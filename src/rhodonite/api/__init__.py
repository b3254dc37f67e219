"""FastAPI routers and Pydantic models, thin: parse, call a service, answer."""
