"""What comes out: pictures, clips, files, reasons, and how much there is to work out."""
