//! A look at one layer: squares of cells, quartered until each has the surface of one region nearest.

use super::on_face::OnFace;
use super::painted_body::{ASKED, PaintedBody, Piece, tag};
use crate::geometry::{closest_point, cross, dot, facet_normal, normalised, sub};
use crate::layers::feet::Home;
use crate::layers::grid::PrintGrid;
use crate::mesh::{MIXED, NO_FACET};

/// A square of cells.
#[derive(Clone, Copy)]
pub(super) struct Square {
    x: usize,
    y: usize,
    size: usize,
    /// The surface is no further from its middle than this, mm.
    within_mm: f64,
    /// A facet or piece that is near, by its number in the search, and a point of it.
    near: Option<(u32, [f64; 3])>,
    /// A facet or piece of one tag that kept the square it is a quarter of from being all of another.
    rival: Option<Rival>,
}

/// A facet or piece of one tag that was near to a square of another.
#[derive(Clone, Copy)]
struct Rival {
    /// Its number in the search.
    found: u32,
    tag: u32,
    corners: [[f64; 3]; 3],
}

impl Square {
    /// One of which nothing is known.
    pub(super) fn first(x: usize, y: usize, size: usize) -> Square {
        Square {
            x,
            y,
            size,
            within_mm: f64::INFINITY,
            near: None,
            rival: None,
        }
    }
}

/// A look at one layer.
pub(super) struct Look<'a> {
    pub(super) painted: &'a PaintedBody<'a>,
    pub(super) piece: &'a Piece,
    pub(super) grid: &'a PrintGrid,
    /// Height in the body's frame, mm.
    pub(super) z: f64,
    pub(super) plane: &'a mut [u32],
    pub(super) high: [usize; 2],
    pub(super) reach_mm: f64,
}

/// What is asked in one square: nothing of it depends on what is found.
struct Asked<'a> {
    look: &'a Look<'a>,
    /// Its middle, in the body's frame, and how far the cells' middles are from there at most.
    p: [f64; 3],
    radius: f64,
    /// From its middle to a side, mm.
    side: f64,
    /// Raised bodies that the middle lies in.
    homes: Vec<Home<'a>>,
}

/// A point of the surface near a square.
#[derive(Clone, Copy)]
struct Found {
    /// Its number in the search.
    found: u32,
    point: [f64; 3],
    tag: u32,
    /// Whether it is nearer to all of the square than the surface of any other region.
    is_alone: bool,
    /// Of what is nearer somewhere, one.
    rival: Option<Rival>,
}

impl Look<'_> {
    pub(super) fn square(&mut self, square: Square) {
        let row = self.grid.cells[0];
        let end = [square.x + square.size, square.y + square.size];
        let end = [0, 1].map(|i| end[i].min(self.high[i]));
        if square.x >= end[0] || square.y >= end[1] {
            return;
        }
        let rows = || (square.y..end[1]).map(|y| y * row + square.x..y * row + end[0]);
        if !rows().any(|cells| self.plane[cells].contains(&ASKED)) {
            return;
        }
        let asked = Asked::of(self, &square);
        let Some(found) = asked.found(&square) else {
            return;
        };
        let (p, radius) = (asked.p, asked.radius);
        let distance = away2(p, found.point).sqrt();
        if found.is_alone {
            self.reach_mm = self.reach_mm.max(distance + 2.0 * radius);
            for cells in rows() {
                let cells = &mut self.plane[cells];
                cells
                    .iter_mut()
                    .filter(|c| **c == ASKED)
                    .for_each(|c| *c = found.tag);
            }
            return;
        }
        let size = square.size / 2;
        for (x, y) in [(0, 0), (size, 0), (0, size), (size, size)] {
            self.square(Square {
                x: square.x + x,
                y: square.y + y,
                size,
                // A hair more than the way to its middle, for rounding.
                within_mm: distance * (1.0 + 1e-6) + radius,
                near: Some((found.found, found.point)),
                rival: found.rival,
            });
        }
    }
}

impl<'a> Asked<'a> {
    fn of(look: &'a Look<'_>, square: &Square) -> Asked<'a> {
        let (grid, of) = (look.grid, &look.painted.of);
        let side = 0.5 * (square.size as f64 - 1.0) * grid.step_mm;
        let [x, y] = grid.centre(square.x, square.y);
        let p = [
            x + side - of.body.shift[0],
            y + side - of.body.shift[1],
            look.z,
        ];
        let painted = look.painted;
        Asked {
            look,
            p,
            radius: side * std::f64::consts::SQRT_2,
            side,
            homes: painted.feet.homes(of, &painted.tree, |_| true, p),
        }
    }

    fn found(&self, square: &Square) -> Option<Found> {
        let painted = self.look.painted;
        // What was near to the whole may do for the quarter: that is found out faster than what is nearest.
        let guess = square.near.filter(|(f, q)| self.accepts(*f, *q));
        let of_guess = guess.map_or(f64::INFINITY, |(_, q)| away2(self.p, q).sqrt());
        let found = guess.filter(|_| square.size > 1);
        let found = found.map(|(found, point)| self.judged(found, point, square.rival));
        let rival = found.map_or(square.rival, |f| f.rival);
        found.filter(|f| f.is_alone).or_else(|| {
            // A hair more, for rounding.
            let near = (self.p, square.within_mm.min(of_guess * (1.0 + 1e-6)));
            let let_in = |node: usize| !painted.is_node_hidden(node, self.p, 0.0);
            let closest = |f: u32, c: &[[f64; 3]; 3]| self.closest(f, c);
            let accepts = |f: u32, q: [f64; 3]| self.accepts(f, q);
            let tags = &self.look.piece.tags;
            let nearest = painted
                .search()
                .nearest_tagged(tags, near, let_in, closest, accepts)?;
            Some(self.judged(nearest.facet, nearest.point, rival))
        })
    }

    fn judged(&self, found: u32, point: [f64; 3], rival: Option<Rival>) -> Found {
        let painted = self.look.painted;
        let of_piece = painted.region_of_piece(found);
        let tag = tag(of_piece.unwrap_or_else(|| painted.of.region_at(found, point)));
        let mut rival = rival.filter(|r| r.tag != tag);
        let is_alone = self.radius == 0.0 || self.is_alone((found, point, tag), &mut rival);
        Found {
            found,
            point,
            tag,
            is_alone,
            rival,
        }
    }

    /// The point of what is searched nearest to the middle; none if it does not count.
    fn closest(&self, found: u32, corners: &[[f64; 3]; 3]) -> Option<[f64; 3]> {
        let painted = self.look.painted;
        if !painted.of.counts(painted.facet_of(found)) {
            return None;
        }
        let slab = &self.look.piece.slab;
        if slab.is_cut() {
            slab.closest(self.p, corners)
        } else {
            Some(closest_point(self.p, corners))
        }
    }

    /// Whether a point of a facet counts at the middle: it is neither of something raised that ends above, nor below something raised
    /// that the middle lies in.
    fn accepts(&self, found: u32, q: [f64; 3]) -> bool {
        self.counts_here(self.look.painted.facet_of(found), q)
    }

    /// The same of a facet.
    fn counts_here(&self, facet: u32, q: [f64; 3]) -> bool {
        let painted = self.look.painted;
        if painted.feet.is_empty() {
            return true;
        }
        let raised = painted.feet.at(&painted.of, facet, q);
        !painted.feet.is_hidden(raised, self.p, 0.0)
            && !self.homes.iter().any(|home| home.hides(raised, q))
    }

    /// Whether a facet that is not divided counts nowhere in the square.
    fn is_hidden(&self, facet: u32, corners: &[[f64; 3]; 3], distance: f64) -> bool {
        let feet = &self.look.painted.feet;
        if feet.is_empty() {
            return false;
        }
        let raised = feet.of_whole(facet);
        let is_below = |home: &Home<'_>| corners.iter().all(|q| home.hides(raised, *q));
        // Where no surface passes, all of the square lies in what its middle lies in.
        feet.is_hidden(raised, self.p, self.radius)
            || (distance > self.radius && self.homes.iter().any(is_below))
    }

    /// Whether nowhere in the square the surface of another region can be the nearest. May say no where it is so.
    ///
    /// The squared distance from a facet less that from a point is concave, as the least of linear functions; so if at no corner of the
    /// square a facet is nearer than the point, it is so nowhere in the square.
    fn is_alone(
        &self,
        (nearest, point, tag): (u32, [f64; 3], u32),
        rival: &mut Option<Rival>,
    ) -> bool {
        /// Facets of others that are looked at before the square is taken to be shared.
        const MOST: usize = 400;
        let (p, side) = (self.p, self.side);
        let corner = |[x, y]: [f64; 2]| {
            let corner = [p[0] + x * side, p[1] + y * side, p[2]];
            // A hair more, so that what is as near but for rounding is looked at.
            (corner, away2(corner, point) * (1.0 + 1e-9))
        };
        let corners = [[-1.0, -1.0], [1.0, -1.0], [-1.0, 1.0], [1.0, 1.0]].map(corner);
        let painted = self.look.painted;
        let distance = away2(p, point).sqrt();
        let of_nearest = painted.of.body.open.mesh.corners(painted.facet_of(nearest));
        let winner = Rank::of(&of_nearest, painted.facet_of(nearest));
        // What is cut off or hidden may be just where a foot is.
        let is_all_there = painted.feet.is_empty() && !self.look.piece.slab.is_cut();
        let on_face = (is_all_there.then(|| corners.map(|(p, _)| p)))
            .and_then(|square| OnFace::of(square, &of_nearest));
        let (mut is_alone, mut seen) = (true, 0);
        let known = rival.take();
        let mut look = |found: u32, at: &[[f64; 3]; 3], of: u32| {
            seen += 1;
            let is_beside = |at: &[[f64; 3]; 3]| on_face.as_ref().is_some_and(|f| f.misses(at));
            let is_near = match of {
                MIXED => self.is_near(&corners, found, at, tag, &is_beside),
                _ => {
                    !self.is_hidden(painted.facet_of(found), at, distance)
                        && is_nearer(&corners, at)
                        && !is_beside(at)
                }
            };
            is_alone &= seen < MOST && (!is_near || self.is_behind(found, at, tag, &winner));
            if !is_alone && is_near && of != MIXED {
                *rival = Some(Rival {
                    found,
                    tag: of,
                    corners: *at,
                });
            }
            is_alone
        };
        // Most often what was in the way of the whole is in the way of the quarter: that is found out without a search.
        if known.is_some_and(|r| !look(r.found, &r.corners, r.tag)) {
            return false;
        }
        let let_in = |node: usize| !painted.is_node_hidden(node, p, self.radius);
        let tags = &self.look.piece.tags;
        painted
            .search()
            .each_other(tags, &corners, tag, let_in, look);
        is_alone
    }

    /// Whether a piece of what is divided or cut and has another tag is so near, and not beside the square.
    fn is_near(
        &self,
        places: &[([f64; 3], f64); 4],
        found: u32,
        corners: &[[f64; 3]; 3],
        tag: u32,
        is_beside: &dyn Fn(&[[f64; 3]; 3]) -> bool,
    ) -> bool {
        let near = |piece: &[[f64; 3]; 3]| match self.look.piece.slab.clipped(piece) {
            None => is_nearer(places, piece) && !is_beside(piece),
            Some(pieces) => pieces.iter().any(|c| is_nearer(places, c)),
        };
        let of = &self.look.painted.of;
        let is_other = |region: u16| self::tag(region) != tag;
        if let Some(region) = self.look.painted.region_of_piece(found) {
            return is_other(region) && near(corners);
        }
        let facet = found;
        match of.labels.division(facet) {
            None => of.whole(facet).is_some_and(is_other) && near(corners),
            Some(divided) => divided
                .triangles
                .iter()
                .zip(&divided.labels)
                .any(|(t, label)| {
                    let piece = || t.map(|s| divided.spots[s as usize].point(corners));
                    is_other(label.unwrap_or(of.own)) && near(&piece())
                }),
        }
    }

    /// Whether from all of the square a facet is seen past an edge beyond which another facet is at least as near, and wins: one of
    /// the given tag, or one that is nearer for certain and is looked at by itself.
    fn is_behind(&self, found: u32, corners: &[[f64; 3]; 3], tag: u32, winner: &Rank) -> bool {
        let (painted, p, radius) = (self.look.painted, self.p, self.radius);
        let facet = painted.facet_of(found);
        if painted.of.whole(facet).is_none() && painted.region_of_piece(found).is_some() {
            // Its sides are not those of a facet.
            return false;
        }
        let open = &painted.of.body.open;
        let Some(normal) = facet_normal(corners) else {
            return false;
        };
        let heights = edge_heights(p, corners, normal);
        if heights.iter().all(|h| *h > -radius) {
            return false;
        }
        let own = Rank::of(corners, facet);
        (0..3).filter(|side| heights[*side] < radius).all(|side| {
            let other = open.topology.across[facet as usize][side];
            if other == NO_FACET {
                return false;
            }
            let across = open.mesh.corners(other);
            let is_same = painted.tag_of(other, &self.look.piece.slab) == tag;
            let is_seen = self.counts_here(other, corners[side]);
            if !is_seen {
                return false;
            }
            if is_same && (Rank::of(&across, other).wins(&own) || winner.wins(&own)) {
                return true;
            }
            // Nearer for certain: the ball stands over it, as far as this edge goes.
            let edge = [corners[side], corners[(side + 1) % 3]];
            facet_normal(&across).is_some_and(|n| {
                let inward = edge_heights(p, &across, n);
                let is_shared = |i: usize| {
                    let ends = [across[i], across[(i + 1) % 3]];
                    ends == edge || ends == [edge[1], edge[0]]
                };
                (0..3).any(|i| is_shared(i) && inward[i] >= radius)
            })
        })
    }
}

/// Whether a triangle is nearer to one of some places than told for it, as a square.
fn is_nearer(places: &[([f64; 3], f64); 4], corners: &[[f64; 3]; 3]) -> bool {
    let mut places = places.iter();
    places.any(|(p, reach2)| away2(*p, closest_point(*p, corners)) <= *reach2)
}

fn away2(p: [f64; 3], q: [f64; 3]) -> f64 {
    let d = sub(p, q);
    dot(d, d)
}

/// How far a point lies inward of each edge, in the facet's plane, mm.
fn edge_heights(p: [f64; 3], corners: &[[f64; 3]; 3], normal: [f64; 3]) -> [f64; 3] {
    [0, 1, 2].map(|i| {
        let along = sub(corners[(i + 1) % 3], corners[i]);
        let inward = normalised(cross(normal, along));
        inward.map_or(f64::INFINITY, |n| dot(n, sub(p, corners[i])))
    })
}

/// What decides between facets that are equally near; see [`crate::mesh::comes_first`].
struct Rank {
    level: f64,
    facet: u32,
}

impl Rank {
    fn of(corners: &[[f64; 3]; 3], facet: u32) -> Rank {
        let level = facet_normal(corners).map_or(0.0, |n| n[2].abs());
        Rank { level, facet }
    }

    fn wins(&self, other: &Rank) -> bool {
        crate::mesh::comes_first(
            (0.0, self.level, self.facet),
            (0.0, other.level, other.facet),
        )
    }
}
