"""Stocks and readings, cutters and kerf, fit classes, the fit arithmetic, uncertainty."""
