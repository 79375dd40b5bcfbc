//! A box tree over facets: nearest facet to a point, and facets within a reach of it.
//!
//! Facets are halved across the longest side again and again and end up by fours or so in the leaves of a complete
//! tree with four children to a node, so the tree needs no pointers. A node holds its children's boxes side by side in
//! 32 bits, rounded outward, so that all four are measured at once.

use super::Mesh;
use super::discs::Discs;
use crate::geometry::{Bounds, closest_point, dot, facet_normal, sub};
use rayon::prelude::*;
use std::cell::Cell;
use std::sync::OnceLock;

/// Difference of squared distances, as a share, within which they may be the same in 32 bits, and more.
pub(crate) const SAME: f64 = 2e-7;

/// Whether one facet is the nearest rather than another, given the squared distance, how level it is (1 for level), and the
/// number of each.
///
/// Of facets whose squared distances are the same in 32 bits the most level one wins, so that the colour of a wall does not go
/// on below its foot, and then the lowest number.
pub(crate) fn comes_first(a: (f32, f64, u32), b: (f32, f64, u32)) -> bool {
    a.0 < b.0 || (a.0 == b.0 && (a.1 > b.1 || (a.1 == b.1 && a.2 < b.2)))
}

/// Facets in a leaf, at most on average.
const LEAF: usize = 4;

/// Boxes of four children: lowest x, y, z, then highest x, y, z, of each.
pub(super) type Boxes = [[f32; 4]; 6];

/// A box tree over some facets of a mesh. Holds its own copy of the corners, in tree order.
pub struct FacetTree {
    /// Facet numbers in tree order.
    pub(super) order: Vec<u32>,
    /// Corners in tree order.
    pub(super) corners: Vec<[[f64; 3]; 3]>,
    /// Plane of each facet in tree order: unit normal and offset; all zero for a facet without area.
    planes: Vec<[f64; 4]>,
    /// Inner nodes, root first; the children of node n are 4 n + 1 to 4 n + 4, leaves after the last inner node.
    pub(super) nodes: Vec<Boxes>,
    /// Number of leaves, a power of four.
    pub(super) leaves: usize,
    /// Rounding of a point's coordinates to 32 bits, at most, in mm.
    pub(super) slack: f32,
    /// See [`FacetTree::discs`].
    pub(super) discs: OnceLock<Vec<Discs>>,
}

/// What [`FacetTree::nearest`] finds.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Nearest {
    /// Facet number in the mesh.
    pub facet: u32,
    /// The nearest point on the facet, in mm.
    pub point: [f64; 3],
    /// Squared distance in mm².
    pub distance2: f64,
}

impl FacetTree {
    /// A tree over the given facets of a mesh; n log n.
    pub fn build(mesh: &Mesh, facets: impl Iterator<Item = u32>) -> FacetTree {
        let mut items: Vec<Item> = facets
            .map(|facet| {
                let [a, b, c] = mesh.corners(facet);
                let middle = [0, 1, 2].map(|i| ((a[i] + b[i] + c[i]) / 3.0) as f32);
                Item { middle, facet }
            })
            .collect();
        let mut leaves = 1;
        while leaves * LEAF < items.len() {
            leaves *= 4;
        }
        let count = items.len();
        arrange(&mut items, 0, leaves, leaves, count);
        let order: Vec<u32> = items.into_iter().map(|i| i.facet).collect();
        let corners: Vec<_> = order.par_iter().map(|f| mesh.corners(*f)).collect();
        let planes = corners
            .par_iter()
            .map(|c| {
                let n = facet_normal(c).unwrap_or([0.0; 3]);
                [n[0], n[1], n[2], dot(n, c[0])]
            })
            .collect();
        let mut nodes = vec![[[f32::INFINITY; 4]; 6]; (leaves - 1) / 3];
        let mut level: Vec<Bounds> = (0..leaves)
            .into_par_iter()
            .map(|leaf| {
                let range = start(leaf, leaves, count)..start(leaf + 1, leaves, count);
                Bounds::of(corners[range].iter().flatten().copied())
            })
            .collect();
        while level.len() > 1 {
            let first = (level.len() / 4 - 1) / 3;
            level = level
                .chunks_exact(4)
                .zip(&mut nodes[first..])
                .map(|(children, node)| {
                    let mut all = Bounds::EMPTY;
                    for (i, b) in children.iter().enumerate() {
                        for axis in 0..3 {
                            node[axis][i] = (b.min[axis] as f32).next_down();
                            node[3 + axis][i] = (b.max[axis] as f32).next_up();
                        }
                        all.join(b);
                    }
                    all
                })
                .collect();
        }
        let b = mesh.bounds();
        let largest = b
            .min
            .iter()
            .chain(&b.max)
            .fold(1.0f64, |m, c| m.max(c.abs()));
        let slack = (largest * 4.0 * f64::from(f32::EPSILON)) as f32;
        FacetTree {
            order,
            corners,
            planes,
            nodes,
            leaves,
            slack,
            discs: OnceLock::new(),
        }
    }

    /// The facet nearest to `p`, if one is within `reach` mm.
    ///
    /// Below a dent all facets that meet in its edge are equally near: [`comes_first`] says which of them it is.
    pub fn nearest(&self, p: [f64; 3], reach: f64) -> Option<Nearest> {
        let closest = |_: u32, corners: &[[f64; 3]; 3]| Some(closest_point(p, corners));
        self.nearest_by((p, reach), None, |_| true, closest, |_, _| true)
    }

    /// As [`FacetTree::nearest`], of the facets below the nodes that are let in; `closest` gives the point of a facet that is
    /// nearest to `p`, or none if the facet does not count, and `accepts` is asked about it only if nothing found before is nearer.
    /// With discs the same is found: quicker where all surface is far.
    pub(crate) fn nearest_by(
        &self,
        (p, reach): ([f64; 3], f64),
        discs: Option<&[Discs]>,
        let_in: impl Fn(usize) -> bool,
        closest: impl Fn(u32, &[[f64; 3]; 3]) -> Option<[f64; 3]>,
        accepts: impl Fn(u32, [f64; 3]) -> bool,
    ) -> Option<Nearest> {
        let mut best = Nearest {
            facet: u32::MAX,
            point: p,
            distance2: reach * reach,
        };
        let mut best_level = -1.0;
        let mut consider = |slot: usize, best: &mut Nearest| {
            // A facet is no nearer than its plane; the slack covers the plane's rounding.
            let [nx, ny, nz, offset] = self.planes[slot];
            let height = nx * p[0] + ny * p[1] + nz * p[2] - offset;
            if height * height * (1.0 - SAME) > best.distance2 {
                return;
            }
            let facet = self.order[slot];
            let Some(point) = closest(facet, &self.corners[slot]) else {
                return;
            };
            let d = sub(p, point);
            let distance2 = dot(d, d);
            let level = nz.abs();
            let now = (best.distance2 as f32, best_level, best.facet);
            if comes_first((distance2 as f32, level, facet), now) && accepts(facet, point) {
                best_level = level;
                *best = Nearest {
                    facet,
                    point,
                    distance2,
                };
            }
        };
        // Three of four children wait at every level; 4²⁰ leaves would be more than there are facet numbers.
        let mut stack = [(0u32, 0f32); 64];
        let mut depth = 1;
        while depth > 0 {
            depth -= 1;
            let (node, d) = stack[depth];
            if f64::from(d) > best.distance2 * (1.0 + SAME) {
                continue;
            }
            let node = node as usize;
            let Some(boxes) = self.nodes.get(node) else {
                for slot in self.slots(node) {
                    consider(slot, &mut best);
                }
                continue;
            };
            let mut near = self.distances2(boxes, p);
            if let Some(discs) = discs {
                let of_discs = self.distances2_of_discs(&discs[node], p);
                for i in 0..4 {
                    near[i] = if of_discs[i] > near[i] {
                        of_discs[i]
                    } else {
                        near[i]
                    };
                }
            }
            // Farthest first onto the stack, so that the nearest is looked into first.
            let mut turn = [0usize, 1, 2, 3];
            for (a, b) in [(0, 1), (2, 3), (0, 2), (1, 3), (1, 2)] {
                if near[turn[a]] < near[turn[b]] {
                    turn.swap(a, b);
                }
            }
            for child in turn {
                let is_near = f64::from(near[child]) <= best.distance2 * (1.0 + SAME);
                if is_near && let_in(4 * node + 1 + child) {
                    stack[depth] = ((4 * node + 1 + child) as u32, near[child]);
                    depth += 1;
                }
            }
        }
        (best.facet != u32::MAX).then_some(best)
    }

    /// All facets within `reach` mm of `p`, in ascending number.
    pub fn within(&self, p: [f64; 3], reach: f64) -> Vec<u32> {
        let mut found = Vec::new();
        self.each_within(p, reach, |slot| found.push(self.order[slot]));
        found.sort_unstable();
        found
    }

    /// As [`FacetTree::within`]; none where more than `most` have boxes there, of which no more are looked at.
    pub fn within_if_few(&self, p: [f64; 3], reach: f64, most: usize) -> Option<Vec<u32>> {
        let (looked, mut found) = (Cell::new(0), Vec::new());
        self.visit(
            |boxes| {
                let is_few = looked.get() <= most;
                self.distances2(boxes, p)
                    .map(|d| is_few && f64::from(d) <= reach * reach)
            },
            |slot| {
                looked.set(looked.get() + 1);
                let d = sub(p, closest_point(p, &self.corners[slot]));
                if dot(d, d) <= reach * reach {
                    found.push(self.order[slot]);
                }
            },
        );
        found.sort_unstable();
        (looked.get() <= most).then_some(found)
    }

    /// As [`FacetTree::within`], the corners of each instead of its number, in no promised order.
    pub fn corners_within(&self, p: [f64; 3], reach: f64) -> Vec<[[f64; 3]; 3]> {
        let mut found = Vec::new();
        self.each_within(p, reach, |slot| found.push(self.corners[slot]));
        found
    }

    fn each_within(&self, p: [f64; 3], reach: f64, mut found: impl FnMut(usize)) {
        self.visit(
            |boxes| {
                self.distances2(boxes, p)
                    .map(|d| f64::from(d) <= reach * reach)
            },
            |slot| {
                let d = sub(p, closest_point(p, &self.corners[slot]));
                if dot(d, d) <= reach * reach {
                    found(slot);
                }
            },
        );
    }

    /// Visits every facet whose own box overlaps one, with its corners, in no promised order.
    pub fn each_overlapping(&self, bounds: &Bounds, mut look: impl FnMut(u32, &[[f64; 3]; 3])) {
        let meets =
            |low: f64, high: f64, axis: usize| low <= bounds.max[axis] && high >= bounds.min[axis];
        self.visit(
            |boxes| {
                [0, 1, 2, 3].map(|i| {
                    (0..3).all(|a| meets(f64::from(boxes[a][i]), f64::from(boxes[3 + a][i]), a))
                })
            },
            |slot| {
                let c = &self.corners[slot];
                let low = |a: usize| c[0][a].min(c[1][a]).min(c[2][a]);
                let high = |a: usize| c[0][a].max(c[1][a]).max(c[2][a]);
                if (0..3).all(|a| meets(low(a), high(a), a)) {
                    look(self.order[slot], c);
                }
            },
        );
    }

    /// Visits every facet below the boxes that are let in.
    pub(super) fn visit(&self, let_in: impl Fn(&Boxes) -> [bool; 4], mut look: impl FnMut(usize)) {
        let mut stack = vec![0usize];
        while let Some(node) = stack.pop() {
            match self.nodes.get(node) {
                Some(boxes) => {
                    let open = let_in(boxes);
                    stack.extend((0..4).filter(|c| open[*c]).map(|c| 4 * node + 1 + c));
                }
                None => self.slots(node).for_each(&mut look),
            }
        }
    }

    /// Places of the facets in a leaf.
    pub(super) fn slots(&self, node: usize) -> std::ops::Range<usize> {
        let leaf = node - self.nodes.len();
        start(leaf, self.leaves, self.order.len())..start(leaf + 1, self.leaves, self.order.len())
    }

    /// Squared distances from a point to four boxes: never more than the true ones.
    #[inline(always)]
    pub(super) fn distances2(&self, boxes: &Boxes, p: [f64; 3]) -> [f32; 4] {
        // PERF: plain comparisons become one instruction for four lanes; `f32::max` also minds NaN, and does not.
        let larger = |a: f32, b: f32| if a > b { a } else { b };
        let mut sum = [0f32; 4];
        for axis in 0..3 {
            let c = p[axis] as f32;
            let (low, high) = (c + self.slack, c - self.slack);
            for i in 0..4 {
                let beyond = larger(boxes[axis][i] - low, high - boxes[3 + axis][i]);
                let beyond = larger(beyond, 0.0);
                sum[i] += beyond * beyond;
            }
        }
        for s in &mut sum {
            *s *= 1.0 - 1e-6;
        }
        sum
    }
}

/// A facet while the tree is laid out.
#[derive(Clone, Copy)]
struct Item {
    middle: [f32; 3],
    facet: u32,
}

/// Place of a leaf's first facet: the facets are dealt out evenly over all leaves.
fn start(leaf: usize, leaves: usize, count: usize) -> usize {
    // Leaves are a power of two.
    (leaf * count) >> leaves.trailing_zeros()
}

/// Orders the items of the leaves from `first`, `span` of them, so that every subtree holds one half of a cut across
/// the longest side of its middles.
fn arrange(items: &mut [Item], first: usize, span: usize, leaves: usize, count: usize) {
    if span <= 1 {
        return;
    }
    let (mut low, mut high) = ([f32::INFINITY; 3], [f32::NEG_INFINITY; 3]);
    for item in items.iter() {
        for i in 0..3 {
            low[i] = low[i].min(item.middle[i]);
            high[i] = high[i].max(item.middle[i]);
        }
    }
    let axis = (0..3).max_by(|a, b| (high[*a] - low[*a]).total_cmp(&(high[*b] - low[*b])));
    let axis = axis.unwrap_or(0);
    let left = start(first + span / 2, leaves, count) - start(first, leaves, count);
    if left < items.len() {
        items.select_nth_unstable_by(left, |a, b| {
            a.middle[axis]
                .total_cmp(&b.middle[axis])
                .then(a.facet.cmp(&b.facet))
        });
    }
    let (lower, upper) = items.split_at_mut(left);
    let half = span / 2;
    const ALONE: usize = 1 << 13;
    if lower.len() > ALONE {
        rayon::join(
            || arrange(lower, first, half, leaves, count),
            || arrange(upper, first + half, half, leaves, count),
        );
    } else {
        arrange(lower, first, half, leaves, count);
        arrange(upper, first + half, half, leaves, count);
    }
}
