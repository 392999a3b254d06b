"""Due, forecast, horizon, visits and the calendar. What the workshop decided stands in ``workshop``, what looks further in ``desk``."""
