//! Layers as exact shapes: what each slot prints, bounded by the outlines of the bodies and by the borders between colours.
//!
//! The lines between cells of different slots ([`Field`]) cut the outlines of the bodies. What a cell gives away because it
//! is too thin is given away here as well, so that shapes and plan agree.

use super::claimed::SLIT_MM;
use super::deep::Deep;
use super::field::Field;
use super::label::{Claims, Core, Desk, Layer};
use super::outline::chain;
use super::section::Segment;
use super::survey::Survey;
use super::thin::{Bit, UNPRINTED};
use crate::mesh::NO_FACET;
use crate::shapes::{Area, LATTICE_MM, Ring, place, ring, simplified, spot};
use rayon::prelude::*;
use std::collections::BTreeMap;

/// Corners of an outline that are off a straight line by less do not count, mm.
const STRAIGHT_MM: f64 = 0.008;

/// The same of a border between colours, which is made of places in cells.
const BORDER_MM: f64 = 0.02;

/// One layer as shapes.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct LayerFaces {
    /// Bottom and top, mm.
    pub span_mm: [f64; 2],
    /// All that is inside of any body.
    pub section: Area,
    /// By slot as [`Claims::slot_of`] numbers them, ascending: what it prints. They share no area, and sum to the section but for what nobody prints.
    pub slots: Vec<(u16, Area)>,
}

/// The layers as shapes, for each slot of [`Claims::slot_of`].
///
/// # Cost
/// That of [`super::label_all`], n log n in the corners of outlines, and linear in the cells of layers with several slots.
pub fn faces(survey: &Survey, claims: &Claims<'_>, deep: Option<&Deep>) -> Vec<LayerFaces> {
    faces_of(survey, claims, deep, 0..survey.layers.len())
}

/// As [`faces`], of some layers.
pub fn faces_of(
    survey: &Survey,
    claims: &Claims<'_>,
    deep: Option<&Deep>,
    layers: std::ops::Range<usize>,
) -> Vec<LayerFaces> {
    layers
        .into_par_iter()
        .map_init(FaceDesk::default, |desk, layer| {
            layer_faces(survey, claims, deep, layer, desk)
        })
        .collect()
}

/// What a thread reuses from layer to layer.
#[derive(Default)]
struct FaceDesk {
    desk: Desk,
    field: Field,
}

/// One layer as shapes.
fn layer_faces(
    survey: &Survey,
    claims: &Claims<'_>,
    deep: Option<&Deep>,
    layer: usize,
    FaceDesk { desk, field }: &mut FaceDesk,
) -> LayerFaces {
    let slot_of = claims.slots();
    let here = Layer {
        survey,
        claims,
        deep,
        slot_of: &slot_of,
        layer,
    };
    let settled = here.settle(desk);
    let slot = |region: u16| slot_of.get(region as usize).copied().unwrap_or(UNPRINTED);
    let mut sections = Vec::new();
    let mut parts: BTreeMap<u16, Vec<Area>> = BTreeMap::new();
    let mut segments = Vec::new();
    // One look at the bits for all bodies: there may be many of both.
    let mut bits: Vec<&Bit> = desk.bits.iter().collect();
    bits.sort_by_key(|b| b.body);
    let mut cores: Vec<&Core<'_>> = settled.cores.iter().collect();
    cores.sort_by_key(|c| c.body);
    for body in &survey.layers[layer] {
        survey.outline(body.body as usize, layer, &mut segments);
        // Where bodies touch they share corners, and go on to.
        let touches = survey.claimed[layer].together.is_some();
        let within = if touches {
            0.0
        } else {
            STRAIGHT_MM / LATTICE_MM
        };
        let rings: Vec<Ring> = chain(&segments)
            .iter()
            .map(|r| simplified(&ring(r), within))
            .filter(|r| r.len() > 2)
            .collect();
        let outline = Area::of_rings(&rings);
        if outline.is_empty() {
            continue;
        }
        sections.push(outline.clone());
        field.begin(survey);
        for bit in of_body(&bits, body.body, |b| b.body) {
            field.add(bit, slot(bit.region));
        }
        let cores = of_body(&cores, body.body, |c| c.body);
        // Around a core lie only cells of its own region, unless regions go right through: so it takes what is left.
        let last = match cores {
            [core] if deep.is_none() => Some(slot(core.region)),
            cores => {
                cores.iter().for_each(|c| field.fill(c, slot(c.region)));
                None
            }
        };
        for (slot, area) in cut(field, outline, last) {
            parts.entry(slot).or_default().push(area);
        }
        field.end();
    }
    parts.remove(&UNPRINTED);
    let slots = parts
        .into_iter()
        .map(|(slot, mut areas)| match areas.len() {
            1 => (slot, areas.remove(0)),
            _ => (slot, without_slits(&areas)),
        });
    let (z0, z1) = survey.heights.spans[layer];
    LayerFaces {
        span_mm: [z0, z1],
        slots: slots.filter(|(_, a)| !a.is_empty()).collect(),
        section: match sections.len() {
            1 => sections.remove(0),
            _ => without_slits(&sections),
        },
    }
}

/// Those of a body, among some that are sorted by their bodies.
fn of_body<'a, T>(all: &'a [&'a T], body: u32, body_of: impl Fn(&T) -> u32) -> &'a [&'a T] {
    let first = all.partition_point(|t| body_of(t) < body);
    let count = all[first..].partition_point(|t| body_of(t) == body);
    &all[first..first + count]
}

/// What several bodies have together, with the slits closed that rounding leaves between them.
fn without_slits(areas: &[Area]) -> Area {
    Area::union(areas).offset(SLIT_MM).offset(-SLIT_MM)
}

/// What of an outline each slot has.
///
/// `last` takes what the others leave; if it is not told, the one with the most cells does.
fn cut(field: &mut Field, outline: Area, last: Option<u16>) -> Vec<(u16, Area)> {
    field.settle();
    let mut slots = field.slots();
    let Some(last) = last.or_else(|| slots.pop()) else {
        return Vec::new();
    };
    slots.retain(|s| *s != last);
    if slots.is_empty() {
        return vec![(last, outline)];
    }
    field.spread();
    let rings = rings(field);
    let mut rest = outline;
    let mut found = Vec::new();
    for slot in slots {
        let own = Area::of_rings(rings.get(&slot).map_or(&[], Vec::as_slice));
        let (taken, left) = rest.split(&own);
        found.push((slot, taken));
        rest = left;
    }
    found.push((last, rest));
    found.retain(|(_, a)| !a.is_empty());
    found
}

/// The rings around the cells of each slot, on the lattice.
fn rings(field: &Field) -> BTreeMap<u16, Vec<Ring>> {
    let mut pieces: BTreeMap<u16, Vec<Segment>> = BTreeMap::new();
    field.each_square(|places| {
        let on_lattice = |p: [f64; 2]| place(spot(p));
        let mut put = |owner: u32, from: [f64; 2], to: [f64; 2]| {
            if owner > 0 && from != to {
                let facet = NO_FACET;
                let of = pieces.entry((owner - 1) as u16).or_default();
                of.push(Segment { from, to, facet });
            }
        };
        if let [(p, a, b), (q, ..)] = *places {
            // Going round, `b` follows on `p`: it has its area between `p` and `q`, so its border goes back.
            let (p, q) = (on_lattice(p), on_lattice(q));
            put(b, q, p);
            put(a, p, q);
        } else {
            let count = places.len() as f64;
            let sum = |k: usize| places.iter().map(|(p, ..)| p[k]).sum::<f64>() / count;
            let centre = on_lattice([sum(0), sum(1)]);
            for (p, before, behind) in places {
                put(*behind, centre, on_lattice(*p));
                put(*before, on_lattice(*p), centre);
            }
        }
    });
    let closed = |pieces: Vec<Segment>| {
        let rings = chain(&pieces);
        let rings = rings
            .iter()
            .map(|r| simplified(&ring(r), BORDER_MM / LATTICE_MM));
        rings.filter(|r| r.len() > 2).collect()
    };
    pieces
        .into_iter()
        .map(|(slot, p)| (slot, closed(p)))
        .collect()
}
