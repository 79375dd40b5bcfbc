//! A box tree over facets: nearest facet to a point, and facets crossed by a ray.
//!
//! Facets are halved across the longest side again and again and end up by fours in the leaves of a complete binary
//! tree, so the tree needs no pointers. Boxes are 32-bit, rounded outward.

use super::Mesh;
use super::geometry::{Bounds, closest_point, cross, dot, facet_normal, sub};
use rayon::prelude::*;

const LEAF: usize = 4;

/// A box tree over some facets of a mesh. Holds its own copy of the corners, in tree order.
pub struct FacetTree {
    /// Facet numbers in tree order.
    order: Vec<u32>,
    /// Corners in tree order.
    corners: Vec<[[f64; 3]; 3]>,
    /// Plane of each facet in tree order: unit normal and offset; all zero for a facet without area.
    planes: Vec<[f64; 4]>,
    /// Boxes of a complete binary tree, root first: lowest x, y, z, highest x, y, z.
    boxes: Vec<[f32; 6]>,
    /// Number of leaves, a power of two.
    leaves: usize,
}

/// What [`FacetTree::nearest`] finds.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Nearest {
    /// Facet number in the mesh.
    pub facet: u32,
    /// Place of the facet in the tree, good as a hint for the next search nearby.
    pub slot: u32,
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
        let leaves = items.len().div_ceil(LEAF).max(1).next_power_of_two();
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
        const NOTHING: [f32; 6] = [
            f32::INFINITY,
            f32::INFINITY,
            f32::INFINITY,
            f32::NEG_INFINITY,
            f32::NEG_INFINITY,
            f32::NEG_INFINITY,
        ];
        let mut boxes = vec![NOTHING; 2 * leaves - 1];
        boxes[leaves - 1..]
            .par_iter_mut()
            .enumerate()
            .for_each(|(leaf, out)| {
                let range =
                    start(leaf, leaves, corners.len())..start(leaf + 1, leaves, corners.len());
                if !range.is_empty() {
                    let b = Bounds::of(corners[range].iter().flatten().copied());
                    for i in 0..3 {
                        out[i] = (b.min[i] as f32).next_down();
                        out[3 + i] = (b.max[i] as f32).next_up();
                    }
                }
            });
        for node in (0..leaves - 1).rev() {
            let (l, r) = (boxes[2 * node + 1], boxes[2 * node + 2]);
            boxes[node] = [0, 1, 2, 3, 4, 5].map(|i: usize| {
                if i < 3 {
                    l[i].min(r[i])
                } else {
                    l[i].max(r[i])
                }
            });
        }
        FacetTree {
            order,
            corners,
            planes,
            boxes,
            leaves,
        }
    }

    /// The facet nearest to `p`, if one is within `reach` mm.
    ///
    /// `hint`: the slot of a facet likely to be near, such as a neighbour's answer; it only saves time. Among
    /// facets at exactly the same distance the lowest facet number wins, so the hint never changes the result.
    pub fn nearest(&self, p: [f64; 3], reach: f64, hint: Option<u32>) -> Option<Nearest> {
        let mut best = Nearest {
            facet: u32::MAX,
            slot: 0,
            point: p,
            distance2: reach * reach,
        };
        let consider = |slot: usize, best: &mut Nearest| {
            // A facet is no nearer than its plane; the slack covers the plane's rounding.
            let [nx, ny, nz, offset] = self.planes[slot];
            let height = nx * p[0] + ny * p[1] + nz * p[2] - offset;
            if height * height * (1.0 - 1e-9) > best.distance2 {
                return;
            }
            let point = closest_point(p, &self.corners[slot]);
            let d = sub(p, point);
            let distance2 = dot(d, d);
            let facet = self.order[slot];
            if distance2 < best.distance2 || (distance2 == best.distance2 && facet < best.facet) {
                *best = Nearest {
                    facet,
                    slot: slot as u32,
                    point,
                    distance2,
                };
            }
        };
        if let Some(slot) = hint.filter(|s| (*s as usize) < self.order.len()) {
            consider(slot as usize, &mut best);
        }
        let mut stack = [(0u32, 0f64); 64];
        let mut depth = 1;
        stack[0] = (0, self.box_distance2(0, p));
        while depth > 0 {
            depth -= 1;
            let (node, d) = stack[depth];
            if d > best.distance2 {
                continue;
            }
            let node = node as usize;
            if node >= self.leaves - 1 {
                for slot in self.slots(node) {
                    consider(slot, &mut best);
                }
                continue;
            }
            let near = [2 * node + 1, 2 * node + 2].map(|n| (n as u32, self.box_distance2(n, p)));
            let [first, second] = if near[0].1 <= near[1].1 {
                near
            } else {
                [near[1], near[0]]
            };
            for child in [second, first] {
                if child.1 <= best.distance2 {
                    stack[depth] = child;
                    depth += 1;
                }
            }
        }
        (best.facet != u32::MAX).then_some(best)
    }

    /// All facets within `reach` mm of `p`, in ascending number.
    pub fn within(&self, p: [f64; 3], reach: f64) -> Vec<u32> {
        let mut found = Vec::new();
        let mut stack = vec![0usize];
        while let Some(node) = stack.pop() {
            if self.box_distance2(node, p) > reach * reach {
                continue;
            }
            if node < self.leaves - 1 {
                stack.extend([2 * node + 1, 2 * node + 2]);
                continue;
            }
            for slot in self.slots(node) {
                let d = sub(p, closest_point(p, &self.corners[slot]));
                if dot(d, d) <= reach * reach {
                    found.push(self.order[slot]);
                }
            }
        }
        found.sort_unstable();
        found
    }

    /// Facets crossed by the ray, each once, in no promised order.
    pub(super) fn crossings(&self, from: [f64; 3], direction: [f64; 3]) -> Vec<u32> {
        let mut hits = Vec::new();
        let mut stack = vec![0usize];
        while let Some(node) = stack.pop() {
            if !self.ray_meets_box(node, from, direction) {
                continue;
            }
            if node < self.leaves - 1 {
                stack.extend([2 * node + 1, 2 * node + 2]);
                continue;
            }
            for slot in self.slots(node) {
                if ray_crosses(from, direction, &self.corners[slot]) {
                    hits.push(self.order[slot]);
                }
            }
        }
        hits
    }

    /// Places of the facets in a leaf.
    fn slots(&self, node: usize) -> std::ops::Range<usize> {
        let leaf = node + 1 - self.leaves;
        start(leaf, self.leaves, self.order.len())..start(leaf + 1, self.leaves, self.order.len())
    }

    fn box_distance2(&self, node: usize, p: [f64; 3]) -> f64 {
        let b = &self.boxes[node];
        let mut sum = 0.0;
        for i in 0..3 {
            let d = (f64::from(b[i]) - p[i])
                .max(p[i] - f64::from(b[3 + i]))
                .max(0.0);
            sum += d * d;
        }
        sum
    }

    fn ray_meets_box(&self, node: usize, from: [f64; 3], direction: [f64; 3]) -> bool {
        let b = &self.boxes[node];
        let (mut near, mut far) = (0.0f64, f64::INFINITY);
        for i in 0..3 {
            let t = [b[i], b[3 + i]].map(|c| (f64::from(c) - from[i]) / direction[i]);
            near = near.max(t[0].min(t[1]));
            far = far.min(t[0].max(t[1]));
        }
        near <= far
    }
}

/// Möller and Trumbore, "Fast, Minimum Storage Ray/Triangle Intersection", 1997.
fn ray_crosses(from: [f64; 3], direction: [f64; 3], corners: &[[f64; 3]; 3]) -> bool {
    let (e1, e2) = (sub(corners[1], corners[0]), sub(corners[2], corners[0]));
    let h = cross(direction, e2);
    let det = dot(e1, h);
    if det == 0.0 {
        return false;
    }
    let s = sub(from, corners[0]);
    let u = dot(s, h) / det;
    let q = cross(s, e1);
    let v = dot(direction, q) / det;
    u >= 0.0 && v >= 0.0 && u + v <= 1.0 && dot(e2, q) / det > 0.0
}

/// A facet while the tree is laid out.
#[derive(Clone, Copy)]
struct Item {
    middle: [f32; 3],
    facet: u32,
}

/// Place of a leaf's first facet: the facets are dealt out evenly over all leaves.
fn start(leaf: usize, leaves: usize, count: usize) -> usize {
    leaf * count / leaves
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
