"""Stand-ins for what the bench has and a test has not."""
