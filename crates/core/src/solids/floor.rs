//! The floor and the walls between a sheet and the rest of its body.

use super::crossing::{crossings, is_turned};
use super::depth::Surface;
use super::sheet::Sheet;
use super::solid::{Face, Solid};
use crate::geometry::{dot, facet_area, length, sub};
use crate::mesh::{FacetTree, Mesh, Topology};

/// Where a floor folds.
pub(super) struct Fold {
    /// A place, mm.
    pub(super) at: [f64; 3],
    /// The places of the floor that are to blame.
    places: Vec<u32>,
}

/// The vertices of a floor before they are put anywhere.
struct Laid {
    /// Vertices of the body that get a place below, ascending.
    moving: Vec<u32>,
    /// For each vertex of the body, its place on the floor; none for those of no chosen facet.
    place: Vec<u32>,
    /// From each vertex to its place at full depth, mm.
    ways: Vec<[f64; 3]>,
}

/// Looked over a hair deeper, so that a floor never comes to lie on the far side.
const SPARE_MM: f64 = 0.01;

/// Makes sheets of one choice at different depths.
pub(super) struct Maker<'a> {
    solid: &'a Solid,
    chosen: Vec<bool>,
    surface: Surface<'a>,
    /// Search over the body's own facets.
    pub(super) tree: FacetTree,
    /// Edges of chosen facets towards others, as the chosen facet runs them.
    border: Vec<(u32, u32)>,
}

impl<'a> Maker<'a> {
    pub(super) fn new(
        solid: &'a Solid,
        topology: Topology,
        chosen: &[bool],
        border: Vec<(u32, u32)>,
    ) -> Maker<'a> {
        Maker {
            solid,
            chosen: chosen.to_vec(),
            surface: Surface::of(solid, topology),
            tree: FacetTree::build(&solid.mesh, 0..solid.mesh.facets.len() as u32),
            border,
        }
    }

    /// The sheet at one depth everywhere; none if `go_on`, told the finished share, stops it.
    pub(super) fn everywhere(
        &self,
        depth_mm: f64,
        go_on: &dyn Fn(f64) -> bool,
    ) -> Result<Option<Sheet>, Fold> {
        if !go_on(0.0) {
            return Ok(None);
        }
        let laid = self.lay(depth_mm);
        let shares = vec![1.0; laid.moving.len()];
        self.carry_out(&laid, depth_mm, &shares, go_on)
    }

    /// The sheet at a depth, less deep where it would fold. Facets below which there is no room at all are left to the
    /// rest: they keep their label there. None if `go_on` stops it; how many rounds there will be cannot be known, so the
    /// share that it is told only comes near to 1.
    pub(super) fn up_to(
        &mut self,
        depth_mm: f64,
        go_on: &dyn Fn(f64) -> bool,
    ) -> Result<Option<Sheet>, Fold> {
        const ROUNDS: usize = 120;
        const STEP: f64 = 0.75;
        const USUAL_ROUNDS: f64 = 12.0;
        // Less than this is no depth.
        const LEAST_MM: f64 = 0.05;
        let mut share_of = vec![1.0f64; self.solid.mesh.vertices.len()];
        let mut rounds = 0;
        loop {
            let laid = self.lay(depth_mm);
            let edges = self.edges(&laid);
            let mut shares: Vec<f64> = laid.moving.iter().map(|v| share_of[*v as usize]).collect();
            let stubborn = loop {
                let done = rounds as f64;
                let in_round = |_: f64| go_on(done / (done + USUAL_ROUNDS));
                let fold = match self.carry_out(&laid, depth_mm, &shares, &in_round) {
                    Ok(sheet) => return Ok(sheet),
                    Err(fold) => fold,
                };
                rounds += 1;
                if rounds == ROUNDS || fold.places.is_empty() {
                    return Err(fold);
                }
                for place in &fold.places {
                    shares[*place as usize] *= STEP;
                }
                let is_too_thin = |p: &u32| shares[*p as usize] * depth_mm < LEAST_MM;
                if fold.places.iter().any(is_too_thin) {
                    break fold;
                }
                even_out(&mut shares, &edges, depth_mm);
            };
            for (v, share) in laid.moving.iter().zip(&shares) {
                share_of[*v as usize] = *share;
            }
            if !self.leave_out(&laid, &stubborn.places) {
                return Err(stubborn);
            }
        }
    }

    /// Leaves the facets around some places to the rest, and whatever then hangs on by a single point. False if that is
    /// more than a little of the choice.
    fn leave_out(&mut self, laid: &Laid, places: &[u32]) -> bool {
        const MOST_SHARE: f64 = 0.05;
        let area = |maker: &Maker<'_>| -> f64 {
            maker
                .chosen_facets()
                .map(|(f, _)| facet_area(&maker.solid.corners(f)))
                .sum()
        };
        let before = area(self);
        let mut out: Vec<bool> = vec![false; self.solid.mesh.vertices.len()];
        for (v, place) in laid.place.iter().enumerate() {
            out[v] = places.binary_search(place).is_ok();
        }
        loop {
            for (facet, ids) in self.solid.mesh.facets.iter().enumerate() {
                self.chosen[facet] &= !ids.iter().any(|v| out[*v as usize]);
            }
            self.border = self.solid.border(self.surface.topology(), &self.chosen);
            out.fill(false);
            match touching_point(&self.border) {
                Some(v) => out[v as usize] = true,
                None => break,
            }
        }
        area(self) > (1.0 - MOST_SHARE) * before
    }

    fn lay(&self, depth_mm: f64) -> Laid {
        let (moving, place) = self.places(depth_mm);
        let ways = self.surface.ways(&moving, &|_| depth_mm + SPARE_MM);
        Laid {
            moving,
            place,
            ways,
        }
    }

    /// Vertices that get a place below, one alone of those that lie so close together that the floor would only be
    /// crumpled by them; and for each vertex, its place.
    fn places(&self, depth_mm: f64) -> (Vec<u32>, Vec<u32>) {
        // Well under a line's width, over the slivers that surfaces made from grids are full of.
        const CLOSE_MM: f64 = 0.024;
        let close_mm = CLOSE_MM.min(0.2 * depth_mm);
        let heads = heads(self.solid, &self.chosen, close_mm);
        let mut place = vec![u32::MAX; self.solid.mesh.vertices.len()];
        let mut moving = Vec::new();
        for (v, head) in heads.iter().enumerate().filter(|(v, h)| *v as u32 == **h) {
            place[v] = moving.len() as u32;
            moving.push(*head);
        }
        for (v, head) in heads.iter().enumerate().filter(|(_, h)| **h != u32::MAX) {
            place[v] = place[*head as usize];
        }
        (moving, place)
    }

    /// Edges of the floor: two places and how far apart their vertices are, mm.
    fn edges(&self, laid: &Laid) -> Vec<(u32, u32, f64)> {
        let mut edges = Vec::new();
        for (_, ids) in self.chosen_facets() {
            for side in 0..3 {
                let [a, b] = [ids[side], ids[(side + 1) % 3]].map(|v| laid.place[v as usize]);
                if a < b {
                    let [p, q] =
                        [a, b].map(|n| self.solid.mesh.vertices[laid.moving[n as usize] as usize]);
                    edges.push((a, b, length(sub(p, q))));
                }
            }
        }
        edges.sort_by_key(|e| (e.0, e.1));
        edges.dedup_by(|x, y| (x.0, x.1) == (y.0, y.1));
        edges
    }

    fn chosen_facets(&self) -> impl Iterator<Item = (usize, &[u32; 3])> {
        let all = self.solid.mesh.facets.iter().enumerate();
        all.filter(|(f, _)| self.chosen[*f])
    }

    /// The sheet with each place at its share of the way; none if stopped.
    fn carry_out(
        &self,
        laid: &Laid,
        depth_mm: f64,
        shares: &[f64],
        go_on: &dyn Fn(f64) -> bool,
    ) -> Result<Option<Sheet>, Fold> {
        const LAID: f64 = 0.3;
        const CLEAR: f64 = 0.8;
        if !go_on(LAID) {
            return Ok(None);
        }
        let solid = self.solid;
        let mut vertices = solid.mesh.vertices.clone();
        let first = vertices.len() as u32;
        for ((v, way), share) in laid.moving.iter().zip(&laid.ways).zip(shares) {
            let p = solid.mesh.vertices[*v as usize];
            vertices.push([0, 1, 2].map(|i| p[i] + share * way[i]));
        }
        let inner = |v: u32| first + laid.place[v as usize];
        // The floor between the two, facing out of the rest, and the walls along the border, facing out of the part.
        let mut new: Vec<[u32; 3]> = Vec::new();
        let mut turned = Fold {
            at: [0.0; 3],
            places: Vec::new(),
        };
        for (facet, ids) in self.chosen_facets() {
            let below = ids.map(inner);
            if below[0] == below[1] || below[1] == below[2] || below[2] == below[0] {
                continue;
            }
            let outer = solid.corners(facet);
            if is_turned(&outer, &below.map(|v| vertices[v as usize])) {
                if turned.places.is_empty() {
                    turned.at = outer[0];
                }
                turned.places.extend(below.map(|v| v - first));
            }
            new.push(below);
        }
        if !turned.places.is_empty() {
            turned.places.sort_unstable();
            turned.places.dedup();
            return Err(turned);
        }
        let floor = new.len();
        for (a, b) in &self.border {
            new.push([*b, *a, inner(*a)]);
            if inner(*a) != inner(*b) {
                new.push([*b, inner(*a), inner(*b)]);
            }
        }
        let mut mesh = Mesh {
            vertices,
            facets: solid.mesh.facets.iter().chain(&new).copied().collect(),
        };
        self.check_clear(&mesh, first)?;
        if !go_on(CLEAR) {
            return Ok(None);
        }
        let share = depth_mm / (depth_mm + SPARE_MM);
        for ((v, way), s) in laid.moving.iter().zip(&laid.ways).zip(shares) {
            let p = solid.mesh.vertices[*v as usize];
            mesh.vertices[inner(*v) as usize] = [0, 1, 2].map(|i| p[i] + share * s * way[i]);
        }
        let (floor, walls) = new.split_at(floor);
        let turned = |[a, b, c]: &[u32; 3]| ([*a, *c, *b], Face::CUT);
        let own = |wanted: bool| {
            (0..solid.mesh.facets.len())
                .filter(move |f| self.chosen[*f] == wanted)
                .map(|f| (solid.mesh.facets[f], solid.faces[f]))
        };
        let part = own(true)
            .chain(floor.iter().map(turned))
            .chain(walls.iter().map(|w| (*w, Face::CUT)));
        let rest = own(false)
            .chain(floor.iter().map(|f| (*f, Face::CUT)))
            .chain(walls.iter().map(turned));
        let sheet = Sheet {
            part: Solid::gathered(&mesh.vertices, part),
            rest: Solid::gathered(&mesh.vertices, rest),
        };
        let is_sound = |s: &Solid| s.check().is_ok() && s.volume_mm3() > 0.0;
        if is_sound(&sheet.part) && is_sound(&sheet.rest) {
            return Ok(Some(sheet));
        }
        Err(Fold {
            at: solid.mesh.vertices[laid.moving[0] as usize],
            places: Vec::new(),
        })
    }

    /// Whether floor and walls, the facets after those of the body, pass through nothing.
    fn check_clear(&self, mesh: &Mesh, first: u32) -> Result<(), Fold> {
        let asked: Vec<u32> =
            (self.solid.mesh.facets.len() as u32..mesh.facets.len() as u32).collect();
        let new = FacetTree::build(mesh, asked.iter().copied());
        let found = crossings(mesh, &asked, &[&self.tree, &new], true);
        let Some((facet, _)) = found.first() else {
            return Ok(());
        };
        let facets = found.iter().flat_map(|(a, b)| [a, b]);
        let mut places: Vec<u32> = facets
            .flat_map(|f| mesh.facets[*f as usize])
            .filter_map(|v| v.checked_sub(first))
            .collect();
        places.sort_unstable();
        places.dedup();
        Err(Fold {
            at: mesh.corners(*facet)[0],
            places,
        })
    }
}

/// A vertex where a border passes more than once: the lowest.
pub(super) fn touching_point(border: &[(u32, u32)]) -> Option<u32> {
    let mut leaving: Vec<u32> = border.iter().map(|(a, _)| *a).collect();
    leaving.sort_unstable();
    let twice = leaving.windows(2).find(|w| w[0] == w[1])?;
    Some(twice[0])
}

/// Lets no depth fall off more steeply than the way between two places allows.
fn even_out(shares: &mut [f64], edges: &[(u32, u32, f64)], depth_mm: f64) {
    const STEEPEST: f64 = 0.8;
    const PASSES: usize = 6;
    for _ in 0..PASSES {
        for (a, b, apart) in edges {
            let (a, b) = (*a as usize, *b as usize);
            let most = STEEPEST * apart / depth_mm;
            shares[a] = shares[a].min(shares[b] + most);
            shares[b] = shares[b].min(shares[a] + most);
        }
    }
}

/// For each vertex of a chosen facet, the one that stands for it; every other has none.
fn heads(solid: &Solid, chosen: &[bool], close_mm: f64) -> Vec<u32> {
    const NONE: u32 = u32::MAX;
    let mut close: Vec<(u32, u32)> = Vec::new();
    let mut heads = vec![NONE; solid.mesh.vertices.len()];
    for (_, ids) in solid
        .mesh
        .facets
        .iter()
        .enumerate()
        .filter(|(f, _)| chosen[*f])
    {
        for side in 0..3 {
            let (a, b) = (ids[side], ids[(side + 1) % 3]);
            heads[a as usize] = a;
            let apart = sub(
                solid.mesh.vertices[a as usize],
                solid.mesh.vertices[b as usize],
            );
            if dot(apart, apart) < close_mm * close_mm {
                close.extend([(a, b), (b, a)]);
            }
        }
    }
    close.sort_unstable();
    close.dedup();
    let mut is_taken = vec![false; solid.mesh.vertices.len()];
    for group in close.chunk_by(|a, b| a.0 == b.0) {
        let head = group[0].0;
        if is_taken[head as usize] {
            continue;
        }
        is_taken[head as usize] = true;
        for (_, near) in group {
            // A vertex that others follow follows none itself, so nothing moves further than this.
            if !is_taken[*near as usize] {
                is_taken[*near as usize] = true;
                heads[*near as usize] = head;
            }
        }
    }
    heads
}
