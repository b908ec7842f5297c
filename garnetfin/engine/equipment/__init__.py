"""Equipment behind the results of air, train and fans: what is chosen by rule, what is pinned, and why."""
