// Package fill answers how a liquid rises in a mould and what air it shuts in.
//
// The same question is asked twice in the trade: of the resin in the cavity
// (the space inside the part's surface) and of the rubber rising round the
// part in an open-topped box (the space outside it). The liquid is taken to
// rise slowly and level. A place keeps its air when every way from it to the
// open air dips below the place itself: its seal height is the highest level
// that the liquid can reach before the last way out is drowned, and what lies
// above that level in the same pocket is trapped.
//
// Ways out are followed on the part's own surface, not from cell to cell: air
// that creeps along a ceiling never leaves the space, so a path over mesh
// edges is exact, and together with straight rises from the edges of ledges
// it finds every pass there is (the passes of a height function on a solid
// lie on its surface). Pocket volumes are then exact sums over triangles, and
// no stair-steps can feign a pocket. A mesh that does not close, or whose
// bodies run into one another, has no such surface; for it the same tree is
// built over the columns of a grid, and the answer is good to a cell.
//
// Source of the definition: priority-flood depression filling turned upside
// down (Barnes, Lehman & Mulla, Computers & Geosciences 62 (2014) 117); the
// tree of passes is the merge tree of computational topology (Carr, Snoeyink
// & Axen, Computational Geometry 24 (2003) 75). Both cited from memory.
package fill
