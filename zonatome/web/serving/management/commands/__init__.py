"""Commands that start the site and its worker, and keep the workroom safe."""
