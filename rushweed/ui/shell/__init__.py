"""What surrounds every station: trail, rack, slip, lens, strip, findings, menus, finder."""
