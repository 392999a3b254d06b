"""Due and forecast: reads only, computed by the core from readings, records and sheets."""
