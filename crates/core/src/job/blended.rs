//! Colours that blend from corner to corner of a facet, brought to a few: where each of them is the nearest, with exact borders.
//!
//! Between the corners the colour runs straight in CIELAB, so the places where two colours are equally near lie on a straight line.

use super::before::Before;
use super::pictured::Pictures;
use super::state::Job;
use crate::carve::{Held, Label, Node, Overlaying, overlay, shares_at};
use crate::colour::Colour;
use crate::formats::FileColours;
use crate::geometry::dot;
use crate::model::OpenMesh;
use std::sync::Arc;

/// Blended facets and the colours that stand for theirs.
struct Blends<'a> {
    /// The facets, ascending, with the colours of their corners.
    facets: &'a [(u32, [Colour; 3])],
    /// The colours in CIELAB, each with the number of its region.
    centres: Vec<([f64; 3], u16)>,
}

impl Blends<'_> {
    /// How far each colour is from that of a corner, but for what is the same for all: least where it is nearest, and straight
    /// between corners.
    fn far(&self, facet: u32) -> Option<Vec<[f64; 3]>> {
        let at = self.facets.binary_search_by_key(&facet, |f| f.0).ok()?;
        let labs = self.facets[at].1.map(Colour::lab);
        let of = |(centre, _): &([f64; 3], u16)| {
            labs.map(|lab| dot(*centre, *centre) - 2.0 * dot(*centre, lab))
        };
        Some(self.centres.iter().map(of).collect())
    }

    /// The borders between the colours on a facet.
    fn lines(&self, open: &OpenMesh, facet: u32) -> Vec<[Node; 2]> {
        let Some(far) = self.far(facet) else {
            return Vec::new();
        };
        let ids = open.mesh.facets[facet as usize];
        let corners = open.mesh.corners(facet);
        let mut out = Vec::new();
        for a in 0..far.len() {
            for b in a + 1..far.len() {
                let apart = [0, 1, 2].map(|k| far[a][k] - far[b][k]);
                out.extend(between(&far, [a, b], apart, ids, &corners));
            }
        }
        out
    }

    /// The region at a place on a facet.
    fn region(&self, open: &OpenMesh, facet: u32, p: [f64; 3]) -> Option<u16> {
        let far = self.far(facet)?;
        let [u, v] = shares_at(p, &open.mesh.corners(facet));
        let shares = [1.0 - u - v, u, v];
        let at = |n: &usize| dot(far[*n], shares);
        let nearest = (0..far.len()).min_by(|a, b| at(a).total_cmp(&at(b)))?;
        Some(self.centres[nearest].1)
    }
}

/// The piece of the line between two colours along which no third is nearer.
fn between(
    far: &[[f64; 3]],
    [a, b]: [usize; 2],
    apart: [f64; 3],
    ids: [u32; 3],
    corners: &[[f64; 3]; 3],
) -> Option<[Node; 2]> {
    let mut ends = (0..3).filter_map(|k| {
        let next = (k + 1) % 3;
        let (low, high) = if ids[k] < ids[next] {
            (k, next)
        } else {
            (next, k)
        };
        let (from, to) = (apart[low], apart[high]);
        ((from > 0.0) != (to > 0.0)).then(|| {
            let t = from / (from - to);
            let mut shares = [0.0; 3];
            (shares[low], shares[high]) = (1.0 - t, t);
            let node = Node::Edge {
                low: ids[low],
                high: ids[high],
                t,
            };
            (node, shares)
        })
    });
    let (first, last) = (ends.next()?, ends.next()?);
    let (mut from, mut to) = (0.0, 1.0);
    for (other, value) in far.iter().enumerate() {
        if other == a || other == b {
            continue;
        }
        let beyond = |shares: [f64; 3]| dot(far[a], shares) - dot(*value, shares);
        let (at_first, at_last) = (beyond(first.1), beyond(last.1));
        match (at_first > 0.0, at_last > 0.0) {
            (true, true) => return None,
            (true, false) => from = f64::max(from, at_first / (at_first - at_last)),
            (false, true) => to = f64::min(to, at_first / (at_first - at_last)),
            (false, false) => {}
        }
    }
    if from >= to {
        return None;
    }
    let inside = |s: f64| {
        let shares = [0, 1, 2].map(|k| first.1[k] + s * (last.1[k] - first.1[k]));
        let of = |axis: usize| (0..3).map(|k| shares[k] * corners[k][axis]).sum();
        Node::Inside([of(0), of(1), of(2)])
    };
    let begin = if from > 0.0 { inside(from) } else { first.0 };
    let end = if to < 1.0 { inside(to) } else { last.0 };
    Some([begin, end])
}

impl Job {
    /// Gives facets of a model that a file colours by corners or by pictures to the nearest colours, place by place.
    pub(super) fn keep_blends(
        &mut self,
        model: usize,
        colours: &FileColours,
        centres: Vec<([f64; 3], u16)>,
        before: &mut Before,
    ) {
        if !colours.is_blended() {
            return;
        }
        let m = &self.models[model];
        let base = m.base.clone();
        let turned: Vec<bool> = m.parts.iter().map(|p| p.map.turns_over()).collect();
        let own: Vec<u16> = m.parts.iter().map(|p| p.own).collect();
        let pictures = Pictures::new(&base, colours, &centres);
        let blends = Blends {
            facets: &colours.varying,
            centres,
        };
        let mut facets: Vec<u32> = colours.varying.iter().map(|f| f.0).collect();
        facets.extend(colours.pictured.iter().map(|p| p.facet));
        facets.sort_unstable();
        let lines = |f: u32| {
            let blended = blends.lines(&base, f);
            match blended.is_empty() {
                true => pictures.lines(&base, f),
                false => blended,
            }
        };
        let region_at = |f: u32, p: [f64; 3]| {
            let blended = blends.region(&base, f, p);
            blended.or_else(|| pictures.region(&base, f, p))
        };
        let coat = |f: u32, middle: [f64; 3], label: Label| match region_at(f, middle) {
            Some(region) => (region != own[base.part_of[f as usize] as usize]).then_some(region),
            None => label,
        };
        let laid = Overlaying {
            open: &base,
            labels: &m.labels,
            go_on: &|| true,
        };
        let changes = overlay(&laid, &facets, &lines, &coat).unwrap_or_default();
        // Facets of parts that are mirrored run the other way where they stand.
        let placed = |(facet, held): (u32, Held)| match held {
            Held::Divided(divided) if turned[base.part_of[facet as usize] as usize] => (
                facet,
                Held::Divided(Arc::new(divided.renumbered([0, 2, 1]))),
            ),
            held => (facet, held),
        };
        self.put(model, changes.into_iter().map(placed).collect(), before);
    }
}
