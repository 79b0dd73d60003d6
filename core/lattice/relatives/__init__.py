"""Other hits on a lane's steps: what they are grown from, and gusts."""
