"""What hangs on the bench: scan tool, scale, meter feed. One protocol each, and a simulated stand-in that ships with Barodex."""
