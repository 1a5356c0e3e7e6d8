"""The made-up scenario: the Harrowmere Fell Radio Club equips the safety net of a moorland hill race.

Makers, models, people and places are invented and belong to no real one; the sweeps were made by physical models.
"""
