//! Cutting a part at a height.

use super::grid::is_above;
use crate::mesh::NO_FACET;
use crate::model::OpenMesh;

/// One piece of a part's outline at a height: the cut through one facet, with the inside on its left.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Segment {
    /// From, in mm.
    pub from: [f64; 2],
    /// To, in mm.
    pub to: [f64; 2],
    /// The facet that was cut; `NO_FACET` for a piece that bridges a hole in the surface.
    pub facet: u32,
}

/// The outline of some facets of a mesh at height `z` (in the mesh's own frame).
///
/// `facets`: those that may cross; others cost a look. A corner at `z`, as [`super::TIE_MM`] has it, counts as above, so that
/// closed shells give closed outlines whatever their corners. Where a shell has holes, its loose ends are bridged by
/// straight pieces, nearest first.
pub fn section(open: &OpenMesh, facets: &[u32], z: f64, out: &mut Vec<Segment>) {
    out.clear();
    let mut loose_starts: Vec<[f64; 2]> = Vec::new();
    let mut loose_ends: Vec<[f64; 2]> = Vec::new();
    for &facet in facets {
        let ids = open.mesh.facets[facet as usize];
        let corners = open.mesh.corners(facet);
        let above = corners.map(|c| is_above(c[2], z));
        let mut from = None;
        let mut to = None;
        for side in 0..3 {
            let next = (side + 1) % 3;
            if above[side] == above[next] {
                continue;
            }
            let point = cross_edge((ids[side], corners[side]), (ids[next], corners[next]), z);
            if above[next] {
                to = Some((point, side));
            } else {
                from = Some((point, side));
            }
        }
        if let (Some((from, entry)), Some((to, exit))) = (from, to) {
            out.push(Segment { from, to, facet });
            if open.topology.across[facet as usize][entry] == NO_FACET {
                loose_starts.push(from);
            }
            if open.topology.across[facet as usize][exit] == NO_FACET {
                loose_ends.push(to);
            }
        }
    }
    bridge(loose_starts, &loose_ends, out);
}

/// Where an edge passes a height; the same bits from both of its facets, since the lower vertex number leads.
fn cross_edge(a: (u32, [f64; 3]), b: (u32, [f64; 3]), z: f64) -> [f64; 2] {
    let (a, b) = if a.0 < b.0 { (a.1, b.1) } else { (b.1, a.1) };
    // A corner may count as above and lie a hair below.
    let t = ((z - a[2]) / (b[2] - a[2])).clamp(0.0, 1.0);
    [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])]
}

/// Joins every loose end to the nearest loose start that is left.
fn bridge(mut starts: Vec<[f64; 2]>, ends: &[[f64; 2]], out: &mut Vec<Segment>) {
    for &end in ends {
        let distance = |p: &[f64; 2]| (p[0] - end[0]).powi(2) + (p[1] - end[1]).powi(2);
        let nearest = (0..starts.len())
            .min_by(|a, b| distance(&starts[*a]).total_cmp(&distance(&starts[*b])));
        let Some(nearest) = nearest else { return };
        let to = starts.swap_remove(nearest);
        out.push(Segment {
            from: end,
            to,
            facet: NO_FACET,
        });
    }
}
