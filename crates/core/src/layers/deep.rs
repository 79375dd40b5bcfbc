//! Whose surface is nearest deep inside: for regions that go right through.
//!
//! The survey looks only as deep as colours soak. What lies deeper is nobody's but the body's own, unless a region goes right
//! through; then the nearest surface counts at any distance. Squares of the layer's grid are asked for as a whole: if no surface
//! of another region can be nearer than the nearest anywhere in it, the square is done, else it is quartered.
//!
//! It depends on the surface alone, not on how deep regions go: so all depths are compared over one look.

use super::body::Body;
use super::feet::{Feet, feet};
use super::grid::PrintGrid;
use super::label::Claims;
use super::span::Slab;
use super::survey::{BodyLayer, Run, Survey};
use crate::carve::{Label, Labels, shares_at};
use crate::geometry::{closest_point, cross, dot, facet_normal, normalised, sub};
use crate::mesh::{FacetTree, MIXED, NO_FACET, NOT_COUNTED, Tags};
use rayon::prelude::*;
use std::sync::Arc;

/// Whose surface is nearest, deep inside every layer.
#[derive(Clone)]
pub struct Deep {
    layers: Vec<Vec<DeepLayer>>,
    /// By body, what is raised on it.
    feet: Vec<Arc<Feet>>,
}

/// The same for one body in one layer.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct DeepLayer {
    /// How far off surface can be that matters here, mm.
    reach_mm: f64,
    pub(super) held: DeepHeld,
}

/// What of a body lies deep in a layer.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum DeepHeld {
    /// To all of it surface of this region is nearest.
    Whole(u16),
    /// Several share it.
    Shared {
        /// The core, by region.
        core: Vec<(u16, Vec<Run>)>,
        /// By cell without a facet, in the order of the layer's cells.
        cells: Vec<u16>,
    },
}

impl DeepLayer {
    /// All of one region, whose surface is all there is: any other would matter.
    fn whole(region: u16) -> DeepLayer {
        DeepLayer {
            reach_mm: f64::INFINITY,
            held: DeepHeld::Whole(region),
        }
    }
}

impl Deep {
    /// Looks deep inside all layers.
    ///
    /// # Cost
    /// Linear in the facets of bodies that are painted; for each layer a search for each square, and for each cell along the borders
    /// of what is nearest to different regions.
    pub fn look(survey: &Survey, claims: &Claims<'_>) -> Deep {
        let of_bodies = |bodies: &Vec<BodyLayer>| {
            let own = bodies
                .iter()
                .map(|b| DeepLayer::whole(claims.own[b.body as usize]));
            own.collect()
        };
        let layers = survey.layers.iter().map(of_bodies);
        let mut deep = Deep {
            layers: layers.collect(),
            feet: vec![Arc::default(); survey.bodies.len()],
        };
        deep.look_where(survey, claims, &|_, _| true);
        deep
    }

    /// No look at all, only what is raised on each body.
    pub(super) fn feet_only(survey: &Survey, claims: &Claims<'_>) -> Deep {
        let of = |number: usize| {
            let (body, labels) = (&survey.bodies[number], claims.labels[number]);
            Arc::new(feet(&body.open, body.part, labels, claims.own[number]))
        };
        Deep {
            layers: Vec::new(),
            feet: (0..survey.bodies.len()).map(of).collect(),
        }
    }

    /// Looks again where surface between two heights of the print may have been the nearest, or may be now. Returns for each layer
    /// whether that is something else than before.
    pub fn look_between(
        &mut self,
        survey: &Survey,
        claims: &Claims<'_>,
        (low, high): (f64, f64),
    ) -> Vec<bool> {
        let is_near = |layer: usize, reach_mm: f64| {
            let z = survey.heights.middle(layer);
            z >= low - reach_mm - 1.0 && z <= high + reach_mm + 1.0
        };
        self.look_where(survey, claims, &is_near)
    }

    fn look_where(
        &mut self,
        survey: &Survey,
        claims: &Claims<'_>,
        is_due: &(dyn Fn(usize, f64) -> bool + Sync),
    ) -> Vec<bool> {
        let mut is_changed = vec![false; self.layers.len()];
        for number in 0..survey.bodies.len() {
            let ground = Ground::of(survey, claims, number);
            self.feet[number] = ground
                .as_ref()
                .map_or_else(Arc::default, |g| g.feet.clone());
            let layers = self.layers.par_iter_mut().zip(&mut is_changed).enumerate();
            layers.for_each_init(Vec::new, |plane, (layer, (deep, is_changed))| {
                let here = &survey.layers[layer];
                let Some(at) = here.iter().position(|b| b.body as usize == number) else {
                    return;
                };
                if !is_due(layer, deep[at].reach_mm) {
                    return;
                }
                let found = match &ground {
                    Some(ground) => ground.layer(layer, &here[at], plane),
                    None => DeepLayer::whole(claims.own[number]),
                };
                *is_changed |= found.held != deep[at].held;
                deep[at] = found;
            });
        }
        is_changed
    }

    /// What is raised on a body.
    pub(super) fn feet(&self, body: usize) -> &Feet {
        &self.feet[body]
    }

    pub(super) fn of(&self, layer: usize, body: usize) -> &DeepHeld {
        &self.layers[layer][body].held
    }
}

/// Tag of the surface of region 0; those of the others follow.
const FIRST: u32 = 2;

fn tag(region: u16) -> u32 {
    FIRST + u32::from(region)
}

fn region(tag: u32) -> u16 {
    tag.saturating_sub(FIRST) as u16
}

/// A painted body.
struct Ground<'a> {
    survey: &'a Survey,
    body: &'a Body,
    labels: &'a Labels,
    /// Whose surface is that without a label.
    own: u16,
    /// Of its facets alone, or of the whole mesh if that is mostly the same.
    tree: Tree<'a>,
    pieces: Vec<Piece>,
    feet: Arc<Feet>,
    /// The facets' raised bodies.
    raised: Option<Tags>,
}

enum Tree<'a> {
    Whole(&'a FacetTree),
    Part(Box<FacetTree>),
}

impl std::ops::Deref for Tree<'_> {
    type Target = FacetTree;

    fn deref(&self) -> &FacetTree {
        match self {
            Tree::Whole(tree) => tree,
            Tree::Part(tree) => tree,
        }
    }
}

/// What of a body lies between two cuts, in the body's frame.
struct Piece {
    slab: Slab,
    tags: Tags,
}

/// A square of cells.
#[derive(Clone, Copy)]
struct Square {
    x: usize,
    y: usize,
    size: usize,
    /// The surface is no further from its middle than this, mm.
    within_mm: f64,
    /// A facet that is near, and a point of it.
    near: Option<(u32, [f64; 3])>,
}

/// Side of the largest square, in cells.
const LARGEST: usize = 32;

/// A cell that is asked for; tags are other numbers, and none is 0.
const ASKED: u32 = u32::MAX;

impl<'a> Ground<'a> {
    /// None for a body that is its own region's all over.
    fn of(survey: &'a Survey, claims: &Claims<'a>, number: usize) -> Option<Ground<'a>> {
        let (body, labels) = (&survey.bodies[number], claims.labels[number]);
        let facets = &survey.facets[number];
        let is_painted = |f: &u32| labels.whole(*f) != Some(None);
        if !facets.iter().any(is_painted) {
            return None;
        }
        let open = &body.open;
        let tree = if 2 * facets.len() > open.mesh.facets.len() {
            Tree::Whole(open.tree())
        } else {
            Tree::Part(Box::new(FacetTree::build(
                &open.mesh,
                facets.iter().copied(),
            )))
        };
        let mut ground = Ground {
            survey,
            body,
            labels,
            own: claims.own[number],
            tree,
            pieces: Vec::new(),
            feet: Arc::new(feet(open, body.part, labels, claims.own[number])),
            raised: None,
        };
        ground.raised = (!ground.feet.is_empty()).then(|| {
            let first = |f: u32| FIRST + ground.feet.of(f, false, || 0);
            let of = |f: u32| {
                if labels.whole(f).is_none() {
                    MIXED
                } else {
                    first(f)
                }
            };
            ground.tree.tags(of)
        });
        // Between two cuts all heights are of the same piece: each is found from its lower end.
        let mut z = f64::NEG_INFINITY;
        loop {
            let slab = claims.slab_at(number, z.next_up());
            let slab_of_body = slab.shifted(-body.shift[2]);
            let tags = ground.tree.tags(|f| ground.tag_of(f, &slab_of_body));
            ground.pieces.push(Piece {
                slab: slab_of_body,
                tags,
            });
            if slab.high == f64::INFINITY {
                break;
            }
            z = slab.high;
        }
        Some(ground)
    }

    fn tag_of(&self, facet: u32, slab: &Slab) -> u32 {
        let open = &self.body.open;
        if open.part_of[facet as usize] != self.body.part || open.is_inner(facet) {
            return NOT_COUNTED;
        }
        if slab.is_cut() {
            match slab.clipped(&open.mesh.corners(facet)) {
                Some(pieces) if pieces.is_empty() => return NOT_COUNTED,
                Some(_) => return MIXED,
                None => {}
            }
        }
        let whole = self.labels.whole(facet);
        whole.map_or(MIXED, |label| tag(label.unwrap_or(self.own)))
    }

    fn layer(&self, layer: usize, here: &BodyLayer, plane: &mut Vec<u32>) -> DeepLayer {
        let alone = || here.cells.iter().filter(|c| c.facet == NO_FACET);
        let asked = || {
            let core = here.core.iter().flat_map(Run::cells);
            core.chain(alone().map(|c| c.at as usize))
        };
        let reach_mm = self.ask(layer, &self.survey.grid, &asked, plane);
        let first = asked().next().map_or(tag(self.own), |at| plane[at]);
        let held = if asked().all(|at| plane[at] == first) {
            DeepHeld::Whole(region(first))
        } else {
            DeepHeld::Shared {
                core: core_by_tag(&here.core, plane),
                cells: alone().map(|c| region(plane[c.at as usize])).collect(),
            }
        };
        asked().for_each(|at| plane[at] = 0);
        DeepLayer { reach_mm, held }
    }

    /// Finds the tags of some cells of a grid over a layer; `plane` has to be zero, and is where they are put. Returns how far off
    /// surface can be that matters, mm.
    fn ask<I: Iterator<Item = usize>>(
        &self,
        layer: usize,
        grid: &PrintGrid,
        asked: &dyn Fn() -> I,
        plane: &mut Vec<u32>,
    ) -> f64 {
        let row = grid.cells[0];
        plane.resize(row * grid.cells[1], 0);
        let z = self.survey.heights.sample(layer) - self.body.shift[2];
        let inside = |p: &&Piece| p.slab.low < z && z <= p.slab.high;
        let Some(piece) = self.pieces.iter().find(inside) else {
            asked().for_each(|at| plane[at] = tag(self.own));
            return f64::INFINITY;
        };
        let all = piece.tags.all();
        if all != MIXED {
            asked().for_each(|at| plane[at] = all.max(FIRST));
            return f64::INFINITY;
        }
        let (mut low, mut high) = ([usize::MAX; 2], [0; 2]);
        for at in asked() {
            plane[at] = ASKED;
            let place = [at % row, at / row];
            for i in 0..2 {
                low[i] = low[i].min(place[i]);
                high[i] = high[i].max(place[i] + 1);
            }
        }
        if low[0] == usize::MAX {
            return 0.0;
        }
        let mut look = Look {
            ground: self,
            piece,
            grid,
            z,
            plane,
            high,
            reach_mm: 0.0,
        };
        for y in (low[1]..high[1]).step_by(LARGEST) {
            for x in (low[0]..high[0]).step_by(LARGEST) {
                look.square(Square {
                    x,
                    y,
                    size: LARGEST,
                    within_mm: f64::INFINITY,
                    near: None,
                });
            }
        }
        look.reach_mm
    }
}

/// For some cells of a grid over a layer, in which a body has nothing of its surface near, whose surface is nearest. Costs a look at the
/// body's facets, and that of [`Deep::look`] for one layer.
pub(super) fn deep_labels(
    survey: &Survey,
    claims: &Claims<'_>,
    (body, layer): (usize, usize),
    grid: &PrintGrid,
    cells: &[usize],
) -> Vec<u16> {
    let Some(ground) = Ground::of(survey, claims, body) else {
        return vec![claims.own[body]; cells.len()];
    };
    let mut plane = Vec::new();
    ground.ask(layer, grid, &|| cells.iter().copied(), &mut plane);
    cells.iter().map(|at| region(plane[*at])).collect()
}

/// The core by region, in the order of their numbers.
fn core_by_tag(core: &[Run], plane: &[u32]) -> Vec<(u16, Vec<Run>)> {
    let mut by_tag: Vec<(u32, Vec<Run>)> = Vec::new();
    for run in core {
        let mut first = run.first;
        for cells in plane[run.cells()].chunk_by(|a, b| a == b) {
            let part = Run {
                first,
                length: cells.len() as u32,
                solid: run.solid,
            };
            first += part.length;
            match by_tag.iter_mut().find(|(t, _)| *t == cells[0]) {
                Some((_, runs)) => runs.push(part),
                None => by_tag.push((cells[0], vec![part])),
            }
        }
    }
    by_tag.sort_by_key(|(t, _)| *t);
    by_tag
        .into_iter()
        .map(|(t, runs)| (region(t), runs))
        .collect()
}

/// A look at one layer.
struct Look<'a> {
    ground: &'a Ground<'a>,
    piece: &'a Piece,
    grid: &'a PrintGrid,
    /// Height in the body's frame, mm.
    z: f64,
    plane: &'a mut [u32],
    high: [usize; 2],
    reach_mm: f64,
}

impl Look<'_> {
    fn square(&mut self, square: Square) {
        let grid = self.grid;
        let row = grid.cells[0];
        let end = [square.x + square.size, square.y + square.size];
        let end = [0, 1].map(|i| end[i].min(self.high[i]));
        if square.x >= end[0] || square.y >= end[1] {
            return;
        }
        let is_asked = |plane: &[u32]| {
            (square.y..end[1]).any(|y| plane[y * row + square.x..y * row + end[0]].contains(&ASKED))
        };
        if !is_asked(self.plane) {
            return;
        }
        let half = 0.5 * (square.size as f64 - 1.0);
        let shift = self.ground.body.shift;
        let origin = grid.centre(square.x, square.y);
        let p = [
            origin[0] + half * grid.step_mm - shift[0],
            origin[1] + half * grid.step_mm - shift[1],
            self.z,
        ];
        let radius = half * grid.step_mm * std::f64::consts::SQRT_2;
        let tags = &self.piece.tags;
        let closest = |f: u32, c: &[[f64; 3]; 3]| self.closest(p, f, c);
        let accepts = |f: u32, q: [f64; 3]| !self.is_hidden(f, q, p, 0.0);
        let let_in = |node: usize| !self.is_node_hidden(node, p, 0.0);
        let tree = &self.ground.tree;
        let is_alone = |facet: u32, point: [f64; 3], tag: u32| {
            let side = half * grid.step_mm;
            let corner = |[x, y]: [f64; 2]| {
                let corner = [p[0] + x * side, p[1] + y * side, p[2]];
                // A hair more, so that what is as near but for rounding is looked at.
                (corner, away2(corner, point) * (1.0 + 1e-9))
            };
            let corners = [[-1.0, -1.0], [1.0, -1.0], [-1.0, 1.0], [1.0, 1.0]].map(corner);
            self.is_alone((p, radius), &corners, tag, facet)
        };
        // What was near to the whole may do for the quarter: that is found out faster than what is nearest.
        let guess = square
            .near
            .filter(|(facet, point)| square.size > 1 && accepts(*facet, *point));
        let found = guess.and_then(|(facet, point)| {
            let tag = self.tag_at(facet, point);
            is_alone(facet, point, tag).then_some((facet, point, tag, true))
        });
        let found = found.or_else(|| {
            let near = (p, square.within_mm);
            let nearest = tree.nearest_tagged(tags, near, let_in, closest, accepts)?;
            let (facet, point) = (nearest.facet, nearest.point);
            let tag = self.tag_at(facet, point);
            let is_done = square.size == 1 || is_alone(facet, point, tag);
            Some((facet, point, tag, is_done))
        });
        let Some((facet, point, tag, is_done)) = found else {
            return;
        };
        let distance = away2(p, point).sqrt();
        if is_done {
            self.reach_mm = self.reach_mm.max(distance + 2.0 * radius);
            for y in square.y..end[1] {
                for cell in &mut self.plane[y * row + square.x..y * row + end[0]] {
                    if *cell == ASKED {
                        *cell = tag;
                    }
                }
            }
            return;
        }
        let size = square.size / 2;
        for (x, y) in [(0, 0), (size, 0), (0, size), (size, size)] {
            self.square(Square {
                x: square.x + x,
                y: square.y + y,
                size,
                // A hair more than the way to its middle, for rounding.
                within_mm: distance * (1.0 + 1e-6) + radius,
                near: Some((facet, point)),
            });
        }
    }

    /// The point of a facet nearest to another; none if it does not count.
    fn closest(&self, p: [f64; 3], facet: u32, corners: &[[f64; 3]; 3]) -> Option<[f64; 3]> {
        let body = self.ground.body;
        let counts = body.open.part_of[facet as usize] == body.part && !body.open.is_inner(facet);
        if !counts {
            return None;
        }
        if self.piece.slab.is_cut() {
            self.piece.slab.closest(p, corners)
        } else {
            Some(closest_point(p, corners))
        }
    }

    /// Whether a point of a facet counts nowhere in a level disc, because what it is of is raised and ends above.
    fn is_hidden(&self, facet: u32, point: [f64; 3], p: [f64; 3], radius: f64) -> bool {
        let feet = &self.ground.feet;
        if feet.is_empty() {
            return false;
        }
        let is_divided = self.ground.labels.whole(facet).is_none();
        let raised = feet.of(facet, is_divided, || region(self.tag_at(facet, point)));
        feet.is_hidden(raised, p, radius)
    }

    /// Whether all facets of a node are hidden, from their common tag.
    fn is_node_hidden(&self, node: usize, p: [f64; 3], radius: f64) -> bool {
        let raised = self
            .ground
            .raised
            .as_ref()
            .map_or(FIRST, |t| t.of_node(node));
        raised > FIRST && self.ground.feet.is_hidden(raised - FIRST, p, radius)
    }

    fn tag_at(&self, facet: u32, point: [f64; 3]) -> u32 {
        let labels = self.ground.labels;
        let label = labels.whole(facet).unwrap_or_else(|| {
            let corners = self.ground.body.open.mesh.corners(facet);
            labels.at(facet, shares_at(point, &corners))
        });
        tag(label.unwrap_or(self.ground.own))
    }

    /// Whether nowhere in a square the surface of another region can be the nearest. May say no where it is so.
    ///
    /// `corners` are those of the square, each with its squared distance from the one point that is nearest to the middle. The squared
    /// distance from a facet less that from a point is concave, as the least of linear functions; so if at no corner a facet is nearer
    /// than the point, it is so nowhere in the square.
    fn is_alone(
        &self,
        (p, radius): ([f64; 3], f64),
        corners: &[([f64; 3], f64); 4],
        tag: u32,
        nearest: u32,
    ) -> bool {
        /// Facets of others that are looked at before the square is taken to be shared.
        const MOST: usize = 400;
        let winner = Rank::of(&self.ground.body.open.mesh.corners(nearest), nearest);
        let (mut is_alone, mut seen) = (true, 0);
        let look = |facet: u32, of_facet: &[[f64; 3]; 3], of: u32| {
            seen += 1;
            let is_near = match of {
                MIXED => self.is_near(corners, facet, of_facet, tag),
                _ => !self.is_hidden(facet, p, p, radius) && is_nearer(corners, of_facet),
            };
            if is_near && !self.is_behind(p, radius, facet, of_facet, tag, &winner) {
                is_alone = false;
            }
            is_alone &= seen < MOST;
            is_alone
        };
        let let_in = |node: usize| !self.is_node_hidden(node, p, radius);
        self.ground
            .tree
            .each_other(&self.piece.tags, corners, tag, let_in, look);
        is_alone
    }

    /// Whether a piece of a divided or cut facet that has another tag is so near.
    fn is_near(
        &self,
        places: &[([f64; 3], f64); 4],
        facet: u32,
        corners: &[[f64; 3]; 3],
        tag: u32,
    ) -> bool {
        let near = |piece: &[[f64; 3]; 3]| match self.piece.slab.clipped(piece) {
            None => is_nearer(places, piece),
            Some(pieces) => pieces.iter().any(|c| is_nearer(places, c)),
        };
        let is_other = |label: Label| self::tag(label.unwrap_or(self.ground.own)) != tag;
        match self.ground.labels.division(facet) {
            None => is_other(self.ground.labels.whole(facet).flatten()) && near(corners),
            Some(divided) => divided
                .triangles
                .iter()
                .zip(&divided.labels)
                .any(|(t, label)| {
                    let piece = || t.map(|s| divided.spots[s as usize].point(corners));
                    is_other(*label) && near(&piece())
                }),
        }
    }

    /// Whether from all of a ball a facet is seen past an edge beyond which another facet is at least as near, and wins: one of
    /// the given tag, or one that is nearer for certain and is looked at by itself.
    fn is_behind(
        &self,
        p: [f64; 3],
        radius: f64,
        facet: u32,
        corners: &[[f64; 3]; 3],
        tag: u32,
        winner: &Rank,
    ) -> bool {
        let open = &self.ground.body.open;
        let Some(normal) = facet_normal(corners) else {
            return false;
        };
        let heights = edge_heights(p, corners, normal);
        if heights.iter().all(|h| *h > -radius) {
            return false;
        }
        let own = Rank::of(corners, facet);
        (0..3).filter(|side| heights[*side] < radius).all(|side| {
            let other = open.topology.across[facet as usize][side];
            if other == NO_FACET {
                return false;
            }
            let across = open.mesh.corners(other);
            let is_same = self.ground.tag_of(other, &self.piece.slab) == tag;
            if is_same && (Rank::of(&across, other).wins(&own) || winner.wins(&own)) {
                return true;
            }
            // Nearer for certain: the ball stands over it, as far as this edge goes.
            let edge = [corners[side], corners[(side + 1) % 3]];
            facet_normal(&across).is_some_and(|n| {
                let inward = edge_heights(p, &across, n);
                let is_shared = |i: usize| {
                    let ends = [across[i], across[(i + 1) % 3]];
                    ends == edge || ends == [edge[1], edge[0]]
                };
                (0..3).any(|i| is_shared(i) && inward[i] >= radius)
            })
        })
    }
}

/// Whether a triangle is nearer to one of some places than told for it, as a square.
fn is_nearer(places: &[([f64; 3], f64); 4], corners: &[[f64; 3]; 3]) -> bool {
    let mut places = places.iter();
    places.any(|(p, reach2)| away2(*p, closest_point(*p, corners)) <= *reach2)
}

fn away2(p: [f64; 3], q: [f64; 3]) -> f64 {
    let d = sub(p, q);
    dot(d, d)
}

/// How far a point lies inward of each edge, in the facet's plane, mm.
fn edge_heights(p: [f64; 3], corners: &[[f64; 3]; 3], normal: [f64; 3]) -> [f64; 3] {
    [0, 1, 2].map(|i| {
        let along = sub(corners[(i + 1) % 3], corners[i]);
        let inward = normalised(cross(normal, along));
        inward.map_or(f64::INFINITY, |n| dot(n, sub(p, corners[i])))
    })
}

/// What decides between facets that are equally near; see [`crate::mesh::comes_first`].
struct Rank {
    level: f64,
    facet: u32,
}

impl Rank {
    fn of(corners: &[[f64; 3]; 3], facet: u32) -> Rank {
        let level = facet_normal(corners).map_or(0.0, |n| n[2].abs());
        Rank { level, facet }
    }

    fn wins(&self, other: &Rank) -> bool {
        crate::mesh::comes_first(
            (0.0, self.level, self.facet),
            (0.0, other.level, other.facet),
        )
    }
}
