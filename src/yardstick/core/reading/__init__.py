"""Reading what came: tags, legends, roles, channels, captured sources, freshness."""
