"""Write files in open formats: names, metadata, writers, batch, labs and printers."""
