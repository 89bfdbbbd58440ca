"""How the networks that ship were trained; needs PyTorch, which the product does not."""
