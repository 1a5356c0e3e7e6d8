"""What stands between a transmitter and a load: networks, their dials, and what stays inside."""
