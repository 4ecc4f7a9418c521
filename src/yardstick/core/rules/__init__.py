"""What a yardstick is made of: what a rule may ask, what it gives, and how whole units are shared (R14-R17)."""
