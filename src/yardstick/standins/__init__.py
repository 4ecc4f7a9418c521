"""Small simulated outside services, each a process of its own, met over HTTP only. They import nothing of the app."""
