//! What the facets of a tree have in common, node by node: so that what is near and *other* is found without looking at all that
//! is near and the same.

use super::bvh::{FacetTree, Nearest};
use rayon::prelude::*;

/// Tag of a facet that does not count.
pub(crate) const NOT_COUNTED: u32 = 0;

/// Tag of a facet, or a node, that holds several.
pub(crate) const MIXED: u32 = 1;

/// A tag for each facet of a tree, and for each node what its facets have in common.
pub(crate) struct Tags {
    slots: Vec<u32>,
    nodes: Vec<u32>,
}

impl Tags {
    /// What all facets have in common.
    pub(crate) fn all(&self) -> u32 {
        self.nodes[0]
    }
}

fn joined(a: u32, b: u32) -> u32 {
    match (a, b) {
        (NOT_COUNTED, other) | (other, NOT_COUNTED) => other,
        (a, b) if a == b => a,
        _ => MIXED,
    }
}

impl FacetTree {
    /// The tags of all facets, given by their numbers. Linear.
    pub(crate) fn tags(&self, of: impl Fn(u32) -> u32 + Sync) -> Tags {
        let slots: Vec<u32> = self.order.par_iter().map(|f| of(*f)).collect();
        let inner = self.nodes.len();
        let mut nodes = vec![NOT_COUNTED; inner + self.leaves];
        for (leaf, node) in nodes[inner..].iter_mut().enumerate() {
            let held = &slots[self.slots(inner + leaf)];
            *node = held.iter().copied().fold(NOT_COUNTED, joined);
        }
        for node in (0..inner).rev() {
            let children = &nodes[4 * node + 1..4 * node + 5];
            nodes[node] = children.iter().copied().fold(NOT_COUNTED, joined);
        }
        Tags { slots, nodes }
    }

    /// As [`FacetTree::nearest`], of the facets that count; `closest` gives the point of a facet nearest to `p`.
    pub(crate) fn nearest_tagged(
        &self,
        tags: &Tags,
        p: [f64; 3],
        reach: f64,
        closest: impl Fn(u32, &[[f64; 3]; 3]) -> Option<[f64; 3]>,
    ) -> Option<Nearest> {
        let counts = |node: usize| tags.nodes[node] != NOT_COUNTED;
        self.nearest_by(p, reach, counts, closest)
    }

    /// Visits facets that count and are not wholly of one tag, whose leaf is within `reach` of `p`, with their tags, until
    /// `look` returns false.
    pub(crate) fn each_other(
        &self,
        tags: &Tags,
        (p, reach): ([f64; 3], f64),
        tag: u32,
        mut look: impl FnMut(u32, &[[f64; 3]; 3], u32) -> bool,
    ) {
        let is_other = |of: u32| of != NOT_COUNTED && of != tag;
        let mut stack = vec![0usize];
        while let Some(node) = stack.pop() {
            if !is_other(tags.nodes[node]) {
                continue;
            }
            let Some(boxes) = self.nodes.get(node) else {
                for slot in self.slots(node).filter(|s| is_other(tags.slots[*s])) {
                    if !look(self.order[slot], &self.corners[slot], tags.slots[slot]) {
                        return;
                    }
                }
                continue;
            };
            let near = self.distances2(boxes, p);
            let children = (0..4).filter(|c| f64::from(near[*c]) <= reach * reach);
            stack.extend(children.map(|c| 4 * node + 1 + c));
        }
    }
}
