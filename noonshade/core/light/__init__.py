"""Light: sources, screens, shade, and what a meter or a back receives from them."""
