//! From the pieces of a section to closed outlines.

use super::section::Segment;

/// Joins segments end to start into closed loops of at least three corners. Pieces that meet share their end points to the
/// last bit. n log n.
pub(super) fn chain(segments: &[Segment]) -> Vec<Vec<[f64; 2]>> {
    let key = |p: [f64; 2]| (p[0].to_bits(), p[1].to_bits());
    let mut by_start: Vec<(u64, u64, u32)> = (0u32..)
        .zip(segments)
        .map(|(i, s)| {
            let (x, y) = key(s.from);
            (x, y, i)
        })
        .collect();
    by_start.sort_unstable();
    let mut used = vec![false; segments.len()];
    let mut loops = Vec::new();
    for seed in 0..segments.len() {
        if used[seed] {
            continue;
        }
        let mut ring = Vec::new();
        let mut at = Some(seed);
        while let Some(i) = at {
            used[i] = true;
            if ring.last() != Some(&segments[i].from) {
                ring.push(segments[i].from);
            }
            let (x, y) = key(segments[i].to);
            let first = by_start.partition_point(|s| (s.0, s.1) < (x, y));
            at = by_start[first..]
                .iter()
                .take_while(|s| (s.0, s.1) == (x, y))
                .map(|s| s.2 as usize)
                .find(|j| !used[*j]);
        }
        if ring.len() >= 3 {
            loops.push(ring);
        }
    }
    loops
}
