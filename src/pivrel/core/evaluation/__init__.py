"""What a laid finish shows at a point, all of its coats with it: the one definition that view and files follow."""
