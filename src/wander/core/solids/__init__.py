"""The only part of Wander that talks to the B-rep kernel."""
