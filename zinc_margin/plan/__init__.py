"""Every exact number of a print, worked out from facts and docket."""
