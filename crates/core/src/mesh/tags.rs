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
    /// What the facets of a node have in common.
    pub(crate) fn of_node(&self, node: usize) -> u32 {
        self.nodes[node]
    }

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

    /// As [`FacetTree::nearest_by`], of the facets that count.
    pub(crate) fn nearest_tagged(
        &self,
        tags: &Tags,
        (p, reach): ([f64; 3], f64),
        let_in: impl Fn(usize) -> bool,
        closest: impl Fn(u32, &[[f64; 3]; 3]) -> Option<[f64; 3]>,
        accepts: impl Fn(u32, [f64; 3]) -> bool,
    ) -> Option<Nearest> {
        let counts = |node: usize| tags.nodes[node] != NOT_COUNTED && let_in(node);
        self.nearest_by((p, reach), Some(self.discs()), counts, closest, accepts)
    }

    /// Visits facets that count and are not wholly of one tag, whose leaf is nearer to one of some places than told for it (as a
    /// square), with their tags, until `look` returns false.
    pub(crate) fn each_other(
        &self,
        tags: &Tags,
        places: &[([f64; 3], f64); 4],
        tag: u32,
        let_in: impl Fn(usize) -> bool,
        mut look: impl FnMut(u32, &[[f64; 3]; 3], u32) -> bool,
    ) {
        let is_other = |of: u32| of != NOT_COUNTED && of != tag;
        let discs = self.discs();
        let mut stack = vec![0usize];
        while let Some(node) = stack.pop() {
            if !is_other(tags.nodes[node]) || !let_in(node) {
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
            let mut is_near = [false; 4];
            for (p, reach2) in places {
                let of_boxes = self.distances2(boxes, *p);
                if of_boxes.iter().all(|d| f64::from(*d) > *reach2) {
                    continue;
                }
                let of_discs = self.distances2_of_discs(&discs[node], *p);
                for child in 0..4 {
                    let near = of_boxes[child].max(of_discs[child]);
                    is_near[child] |= f64::from(near) <= *reach2;
                }
            }
            let children = (0..4).filter(|c| is_near[*c]);
            stack.extend(children.map(|c| 4 * node + 1 + c));
        }
    }
}
