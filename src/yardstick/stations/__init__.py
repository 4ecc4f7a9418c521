"""What a user can do, one module per station. Called by the web and by the command line alike."""
