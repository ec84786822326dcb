package store

// Emptied is emptied, for tests of another package.
var Emptied = (*Store).emptied
