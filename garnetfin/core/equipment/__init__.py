"""Equipment between the air system and the rooms, and behind the coils: figures in, figures out, no names of rooms."""
