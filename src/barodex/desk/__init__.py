"""What looks across everything: shopping, the morning, a vehicle in plain words for its owner. It changes nothing."""
