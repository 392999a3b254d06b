"""What the workshop decided for itself: its policy, its school of scheduling, its bay hours. What is set for one compartment stands with the fleet."""
