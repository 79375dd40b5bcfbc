//! Thick discs around the facets of each node of a tree, turned as their surface lies.
//!
//! From deep inside a round body most boxes of the tree are about equally far, because a box stands off the surface in it by about its
//! own size. A disc along the surface stands off by the square of that over the radius of the body: with it a search from there
//! looks at the surface that is near and at little else. Boxes are the quicker test from near the surface.

use super::bvh::FacetTree;
use crate::geometry::{cross, dot, length, normalised, sub};
use rayon::prelude::*;

/// Discs of four children, side by side: middle, normal, half the thickness and radius of each.
#[derive(Clone, Copy)]
pub(crate) struct Discs {
    middle: [[f32; 4]; 3],
    normal: [[f32; 4]; 3],
    half: [f32; 4],
    radius: [f32; 4],
}

impl FacetTree {
    /// The discs of each inner node's children, made when they are first asked for; n log n.
    pub(super) fn discs(&self) -> &[Discs] {
        self.discs.get_or_init(|| {
            let of_node = |node: usize| {
                let mut discs = Discs {
                    middle: [[0.0; 4]; 3],
                    normal: [[0.0; 4]; 3],
                    half: [0.0; 4],
                    radius: [f32::INFINITY; 4],
                };
                for child in 0..4 {
                    discs.set(child, &self.corners[self.slots_below(4 * node + 1 + child)]);
                }
                discs
            };
            (0..self.nodes.len()).into_par_iter().map(of_node).collect()
        })
    }

    /// Squared distances from a point to four discs: never more than those of what is in them.
    #[inline(always)]
    pub(super) fn distances2_of_discs(&self, discs: &Discs, p: [f64; 3]) -> [f32; 4] {
        /// More than the rounding of what is subtracted here, as a share of the way to a disc's middle, and of its square.
        const ROUNDING: f32 = 1e-6;
        // PERF: plain loops over four lanes become one instruction each.
        let larger = |a: f32, b: f32| if a > b { a } else { b };
        let (mut height, mut far2, mut away2) = ([0f32; 4], [0f32; 4], [0f32; 4]);
        for axis in 0..3 {
            let c = p[axis] as f32;
            for i in 0..4 {
                let d = c - discs.middle[axis][i];
                height[i] += d * discs.normal[axis][i];
                far2[i] += d * d;
            }
        }
        for i in 0..4 {
            let slack = self.slack + ROUNDING * far2[i].sqrt();
            let beside2 = larger(
                far2[i] * (1.0 - 4.0 * ROUNDING) - height[i] * height[i],
                0.0,
            );
            let above = larger(height[i].abs() - discs.half[i] - slack, 0.0);
            let beside = larger(beside2.sqrt() - discs.radius[i] - slack, 0.0);
            away2[i] = (above * above + beside * beside) * (1.0 - ROUNDING);
        }
        away2
    }

    /// Places of all facets below a node.
    fn slots_below(&self, node: usize) -> std::ops::Range<usize> {
        let (mut first, mut last) = (node, node);
        while first < self.nodes.len() {
            (first, last) = (4 * first + 1, 4 * last + 4);
        }
        self.slots(first).start..self.slots(last).end
    }
}

impl Discs {
    fn set(&mut self, child: usize, facets: &[[[f64; 3]; 3]]) {
        if facets.is_empty() {
            return;
        }
        let mut normal = [0.0; 3];
        let (mut low, mut high) = ([f64::INFINITY; 3], [f64::NEG_INFINITY; 3]);
        for [a, b, c] in facets {
            let area = cross(sub(*b, *a), sub(*c, *a));
            normal = [0, 1, 2].map(|i| normal[i] + area[i]);
            for q in [a, b, c] {
                for i in 0..3 {
                    low[i] = low[i].min(q[i]);
                    high[i] = high[i].max(q[i]);
                }
            }
        }
        // Facets that lie against one another leave no direction: the disc is a ball then.
        let normal = normalised(normal).unwrap_or([0.0; 3]).map(|c| c as f32);
        let n = normalised(normal.map(f64::from)).unwrap_or([0.0; 3]);
        let start = [0, 1, 2].map(|i| 0.5 * (low[i] + high[i]));
        let (mut low, mut high, mut beside2) = (f64::INFINITY, f64::NEG_INFINITY, 0.0f64);
        for q in facets.iter().flatten() {
            let d = sub(*q, start);
            let height = dot(n, d);
            (low, high) = (low.min(height), high.max(height));
            beside2 = beside2.max(dot(d, d) - height * height);
        }
        let exact = [0, 1, 2].map(|i| start[i] + 0.5 * (low + high) * n[i]);
        let middle = exact.map(|c| c as f32);
        let rounded = length(sub(middle.map(f64::from), exact));
        let (half, radius) = (0.5 * (high - low) + rounded, beside2.sqrt() + rounded);
        for axis in 0..3 {
            self.middle[axis][child] = middle[axis];
            self.normal[axis][child] = normal[axis];
        }
        self.half[child] = (half as f32).next_up();
        self.radius[child] = (radius as f32).next_up();
    }
}
