"""One module a rule, each with its `RULE`. What stands in here is found, nothing lists it."""
