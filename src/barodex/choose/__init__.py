"""Which oil: the shelf held against the compartments, with what the fleet and the policy know. What open services have taken comes as an argument."""
