"""The base of everything else: findings, errors, immutable records, assets, units, tolerances."""
