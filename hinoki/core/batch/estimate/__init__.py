"""What printing takes: filament, time, power and money, worked out from layers."""
