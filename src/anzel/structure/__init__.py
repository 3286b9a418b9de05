"""Plates, joints and the solver that cuts pieces from them."""
