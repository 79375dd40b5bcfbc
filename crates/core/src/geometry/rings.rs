//! Edges chained into closed outlines, and which way these face.

use super::vectors::{cross, sub};
use std::collections::HashMap;
use std::hash::Hash;

/// Edges joined end to start into closed outlines, by their numbers; edges that close none are left out. Linear.
pub(crate) fn rings<K: Hash + Eq + Copy>(edges: &[(K, K)]) -> Vec<Vec<usize>> {
    let mut from: HashMap<K, Vec<usize>> = HashMap::new();
    for (number, (start, _)) in edges.iter().enumerate() {
        from.entry(*start).or_default().push(number);
    }
    let mut is_used = vec![false; edges.len()];
    let mut found = Vec::new();
    for start in 0..edges.len() {
        let mut ring = Vec::new();
        let mut at = start;
        while !is_used[at] {
            is_used[at] = true;
            ring.push(at);
            let next = from.get(&edges[at].1);
            match next.and_then(|n| n.iter().find(|e| !is_used[**e])) {
                Some(next) => at = *next,
                None => break,
            }
        }
        if ring.len() > 2 && edges[start].0 == edges[ring[ring.len() - 1]].1 {
            found.push(ring);
        }
    }
    found
}

/// Newell's area vector of outlines: twice their area, along the normal about which they run counter-clockwise.
pub(crate) fn area_vector(edges: impl IntoIterator<Item = [[f64; 3]; 2]>) -> [f64; 3] {
    let mut area = [0.0; 3];
    let mut first = None;
    for [a, b] in edges {
        // Close to the outline, so that far from the origin nothing is lost to rounding.
        let first = *first.get_or_insert(a);
        let turn = cross(sub(a, first), sub(b, first));
        (0..3).for_each(|i| area[i] += turn[i]);
    }
    area
}
