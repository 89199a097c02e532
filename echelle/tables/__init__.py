"""Reading what a laboratory has into typed columns, with a remark for every guess."""
