"""What was heard on the air, as colour: distances, and two antennas in alternation. No verdict reads it."""
