"""The open documents: pydantic models with their JSON Schema, read strictly, turned to core values."""
