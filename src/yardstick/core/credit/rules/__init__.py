"""The yardsticks (R14, R15): one module a rule, and the registry of all."""
