"""Named colours, type, icons, cord and style: nothing else knows a colour."""
