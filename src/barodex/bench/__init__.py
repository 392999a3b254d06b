"""The sums on their own: one endpoint a sum, each answer with its working. Nothing is stored."""
