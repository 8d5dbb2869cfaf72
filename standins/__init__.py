"""Small simulated devices that ship with the app, each a process of its own."""
