"""The kinds of joint, one module each; every one solves itself."""
