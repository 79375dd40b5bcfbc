//! A painted body, ready to be asked whose surface is nearest.

use super::DeepHeld;
use super::DeepLayer;
use super::look::{Look, Square};
use crate::layers::feet::{Feet, feet};
use crate::layers::grid::PrintGrid;
use crate::layers::label::Claims;
use crate::layers::painted::Painted;
use crate::layers::span::Slab;
use crate::layers::survey::{BodyLayer, Run, Survey};
use crate::mesh::{FacetTree, MIXED, Mesh, NO_FACET, NOT_COUNTED, Tags};
use std::sync::Arc;

/// Tag of the surface of region 0; those of the others follow.
const FIRST: u32 = 2;

pub(super) fn tag(region: u16) -> u32 {
    FIRST + u32::from(region)
}

fn region(tag: u32) -> u16 {
    tag.saturating_sub(FIRST) as u16
}

/// A painted body.
pub(in crate::layers) struct PaintedBody<'a> {
    survey: &'a Survey,
    pub(super) of: Painted<'a>,
    /// Of its facets alone, or of the whole mesh if that is mostly the same.
    pub(super) tree: Tree<'a>,
    /// The same of its pieces, where some facet is divided into many.
    by_piece: Option<PieceTree>,
    pieces: Vec<Piece>,
    pub(in crate::layers) feet: Arc<Feet>,
    /// The facets' raised bodies.
    raised: Option<Tags>,
}

pub(super) enum Tree<'a> {
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

/// A search over whole facets and the pieces of those that are divided: numbers in it are of pieces.
struct PieceTree {
    tree: FacetTree,
    mesh: Mesh,
    /// By piece its facet and its region. Those of one facet follow on one another, facets ascend.
    of: Vec<(u32, u16)>,
}

impl PieceTree {
    /// None where looking through the pieces of each facet is as good.
    fn of(of: &Painted<'_>, facets: &[u32]) -> Option<PieceTree> {
        const MANY: usize = 12;
        let is_many = |f: &u32| (of.labels.division(*f)).is_some_and(|d| d.labels.len() > MANY);
        if !facets.iter().any(is_many) {
            return None;
        }
        let mut mesh = Mesh::default();
        let mut pieces = Vec::new();
        let mut push = |corners: [[f64; 3]; 3], facet: u32, region: u16| {
            let first = mesh.vertices.len() as u32;
            mesh.vertices.extend(corners);
            mesh.facets.push([first, first + 1, first + 2]);
            pieces.push((facet, region));
        };
        let mut facets: Vec<u32> = facets.iter().copied().filter(|f| of.counts(*f)).collect();
        facets.sort_unstable();
        for facet in facets {
            let corners = of.body.open.mesh.corners(facet);
            match of.labels.division(facet) {
                None => push(corners, facet, of.whole(facet).unwrap_or(of.own)),
                Some(divided) => {
                    for (n, label) in divided.labels.iter().enumerate() {
                        push(divided.corners(n, &corners), facet, label.unwrap_or(of.own));
                    }
                }
            }
        }
        let tree = FacetTree::build(&mesh, 0..mesh.facets.len() as u32);
        Some(PieceTree {
            tree,
            mesh,
            of: pieces,
        })
    }
}

/// What of a body lies between two cuts, in the body's frame.
pub(super) struct Piece {
    pub(super) slab: Slab,
    pub(super) tags: Tags,
}

/// Side of the largest square, in cells.
const LARGEST: usize = 32;

/// A cell that is asked for; tags are other numbers, and none is 0.
pub(super) const ASKED: u32 = u32::MAX;

impl<'a> PaintedBody<'a> {
    /// None for a body that is its own region's all over.
    pub(in crate::layers) fn of(
        survey: &'a Survey,
        claims: &Claims<'a>,
        number: usize,
    ) -> Option<PaintedBody<'a>> {
        let of = Painted::of(survey, claims, number);
        let facets = &survey.facets[number];
        if facets.iter().all(|f| of.whole(*f) == Some(of.own)) {
            return None;
        }
        let open = &of.body.open;
        let tree = if 2 * facets.len() > open.mesh.facets.len() {
            Tree::Whole(open.tree())
        } else {
            let facets = facets.iter().copied();
            Tree::Part(Box::new(FacetTree::build(&open.mesh, facets)))
        };
        let feet = Arc::new(feet(&of));
        let by_piece = PieceTree::of(&of, facets);
        let mut painted = PaintedBody {
            survey,
            of,
            tree,
            by_piece,
            pieces: Vec::new(),
            feet,
            raised: None,
        };
        painted.raised = (!painted.feet.is_empty()).then(|| {
            painted.search().tags(|found| {
                let facet = painted.facet_of(found);
                match painted.of.whole(facet) {
                    Some(_) => FIRST + painted.feet.of_whole(facet),
                    None => MIXED,
                }
            })
        });
        // Between two cuts all heights are of the same piece: each is found from its lower end.
        let mut z = f64::NEG_INFINITY;
        loop {
            let slab = claims.slab_at(number, z.next_up());
            let slab_of_body = slab.shifted(-of.body.shift[2]);
            let tags = painted
                .search()
                .tags(|found| painted.tag_in_search(found, &slab_of_body));
            painted.pieces.push(Piece {
                slab: slab_of_body,
                tags,
            });
            if slab.high == f64::INFINITY {
                break;
            }
            z = slab.high;
        }
        Some(painted)
    }

    /// What is searched for the nearest surface.
    pub(super) fn search(&self) -> &FacetTree {
        self.by_piece.as_ref().map_or(&*self.tree, |p| &p.tree)
    }

    /// The facet of what was found.
    pub(super) fn facet_of(&self, found: u32) -> u32 {
        self.by_piece
            .as_ref()
            .map_or(found, |p| p.of[found as usize].0)
    }

    /// Whose what was found is, where pieces are searched.
    pub(super) fn region_of_piece(&self, found: u32) -> Option<u16> {
        self.by_piece.as_ref().map(|p| p.of[found as usize].1)
    }

    fn tag_in_search(&self, found: u32, slab: &Slab) -> u32 {
        let Some(by_piece) = &self.by_piece else {
            return self.tag_of(found, slab);
        };
        if slab.is_cut() {
            match slab.clipped(&by_piece.mesh.corners(found)) {
                Some(pieces) if pieces.is_empty() => return NOT_COUNTED,
                Some(_) => return MIXED,
                None => {}
            }
        }
        tag(by_piece.of[found as usize].1)
    }

    pub(super) fn tag_of(&self, facet: u32, slab: &Slab) -> u32 {
        if !self.of.counts(facet) {
            return NOT_COUNTED;
        }
        if slab.is_cut() {
            match slab.clipped(&self.of.body.open.mesh.corners(facet)) {
                Some(pieces) if pieces.is_empty() => return NOT_COUNTED,
                Some(_) => return MIXED,
                None => {}
            }
        }
        self.of.whole(facet).map_or(MIXED, tag)
    }

    /// Whether all facets of a node are hidden from a level disc, because they are of something raised that ends above it.
    pub(super) fn is_node_hidden(&self, node: usize, p: [f64; 3], radius: f64) -> bool {
        let raised = self.raised.as_ref().map_or(FIRST, |t| t.of_node(node));
        raised > FIRST && self.feet.is_hidden(raised - FIRST, p, radius)
    }

    /// For some cells of a grid over a layer, in which the body has nothing of its surface near, whose surface is nearest. Costs what
    /// [`super::Deep::look`] does for one layer.
    pub(in crate::layers) fn cells(
        &self,
        layer: usize,
        grid: &PrintGrid,
        cells: &[usize],
    ) -> Vec<u16> {
        let mut plane = Vec::new();
        self.ask(layer, grid, &|| cells.iter().copied(), &mut plane);
        cells.iter().map(|at| region(plane[*at])).collect()
    }

    pub(super) fn layer(&self, layer: usize, here: &BodyLayer, plane: &mut Vec<u32>) -> DeepLayer {
        let alone = || here.cells.iter().filter(|c| c.facet == NO_FACET);
        let asked = || {
            let core = here.core.iter().flat_map(Run::cells);
            core.chain(alone().map(|c| c.at as usize))
        };
        let reach_mm = self.ask(layer, &self.survey.grid, &asked, plane);
        let first = asked().next().map_or(tag(self.of.own), |at| plane[at]);
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
        let z = self.survey.heights.sample(layer) - self.of.body.shift[2];
        let inside = |p: &&Piece| p.slab.low < z && z <= p.slab.high;
        let Some(piece) = self.pieces.iter().find(inside) else {
            asked().for_each(|at| plane[at] = tag(self.of.own));
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
            painted: self,
            piece,
            grid,
            z,
            plane,
            high,
            reach_mm: 0.0,
        };
        for y in (low[1]..high[1]).step_by(LARGEST) {
            for x in (low[0]..high[0]).step_by(LARGEST) {
                look.square(Square::first(x, y, LARGEST));
            }
        }
        look.reach_mm
    }
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
