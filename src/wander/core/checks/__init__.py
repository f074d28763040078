"""What a good colleague would notice, as findings with their repairs."""
