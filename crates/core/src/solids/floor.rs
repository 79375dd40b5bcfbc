//! The floors and the walls between what is taken from a body, each choice to its own depth, and the rest.

use super::crossing::{crossings, is_turned};
use super::depth::Surface;
use super::laid::{Laid, even_out, heads};
use super::solid::{Face, Solid};
use super::walls::{NONE, Poles, Side, each_wall};
use crate::geometry::{facet_area, length, sub};
use crate::mesh::{FacetTree, Mesh, NO_FACET, Topology};
use rayon::prelude::*;

/// Stands for no choice: the facet belongs to the rest.
pub(super) const REST: u32 = u32::MAX;

/// A body divided: one body for each choice, and what is left. They share the facets between.
pub(super) struct Taken {
    /// By choice; empty for one that nothing is left of.
    pub(super) parts: Vec<Solid>,
    /// What is left.
    pub(super) rest: Solid,
}

/// Where a floor folds.
pub(super) struct Fold {
    /// A place, mm.
    pub(super) at: [f64; 3],
    /// The places of the floor that are to blame.
    places: Vec<u32>,
}

/// Looked over a hair deeper, so that a floor never comes to lie on the far side.
const SPARE_MM: f64 = 0.01;

/// Less than this is no depth.
const LEAST_MM: f64 = 0.05;

/// Makes bodies of some choices at different depths.
pub(super) struct Maker<'a> {
    solid: &'a Solid,
    /// For each facet its choice, or [`REST`].
    choice: Vec<u32>,
    surface: Surface<'a>,
    /// Search over the body's own facets.
    pub(super) tree: FacetTree,
}

impl<'a> Maker<'a> {
    pub(super) fn new(solid: &'a Solid, topology: Topology, choice: Vec<u32>) -> Maker<'a> {
        Maker {
            solid,
            choice,
            surface: Surface::of(solid, topology),
            tree: FacetTree::build(&solid.mesh, 0..solid.mesh.facets.len() as u32),
        }
    }

    /// The bodies at one depth everywhere for each choice, mm; none if `go_on`, told the finished share, stops it.
    pub(super) fn everywhere(
        &self,
        depths_mm: &[f64],
        go_on: &dyn Fn(f64) -> bool,
    ) -> Result<Option<Taken>, Fold> {
        if !go_on(0.0) {
            return Ok(None);
        }
        let laid = self.lay(depths_mm);
        let shares = vec![1.0; laid.moving.len()];
        self.carry_out(&laid, &shares, go_on)
    }

    /// The bodies at a depth for each choice, less deep where they would fold. Facets below which there is no room at all are
    /// left to the rest: they keep their label there. None if `go_on` stops it; how many rounds there will be cannot be
    /// known, so the share that it is told only comes near to 1.
    pub(super) fn up_to(
        &mut self,
        depths_mm: &[f64],
        go_on: &dyn Fn(f64) -> bool,
    ) -> Result<Option<Taken>, Fold> {
        const ROUNDS: usize = 120;
        const STEP: f64 = 0.75;
        const USUAL_ROUNDS: f64 = 12.0;
        let mut share_of: Vec<Vec<f64>> = Vec::new();
        let mut rounds = 0;
        loop {
            let laid = self.lay(depths_mm);
            let edges = self.edges(&laid);
            let upright = laid.upright();
            share_of.resize(
                laid.depths_mm.len(),
                vec![1.0; self.solid.mesh.vertices.len()],
            );
            let known = |(v, level): &(u32, usize)| share_of[*level][*v as usize];
            let room = self.room(&laid);
            let known = laid.moving.iter().map(known);
            let mut shares: Vec<f64> = known.zip(room).map(|(s, room)| s.min(room)).collect();
            let depth_of = |p: u32| laid.depths_mm[laid.moving[p as usize].1];
            even_out(&mut shares, &edges, &upright, &depth_of);
            let stubborn = loop {
                let done = rounds as f64;
                let in_round = |_: f64| go_on(done / (done + USUAL_ROUNDS));
                let fold = match self.carry_out(&laid, &shares, &in_round) {
                    Ok(taken) => return Ok(taken),
                    Err(fold) => fold,
                };
                rounds += 1;
                if rounds == ROUNDS || fold.places.is_empty() {
                    return Err(fold);
                }
                for place in &fold.places {
                    shares[*place as usize] *= STEP;
                }
                let is_too_thin = |p: &u32| shares[*p as usize] * depth_of(*p) < LEAST_MM;
                if fold.places.iter().any(is_too_thin) {
                    break fold;
                }
                even_out(&mut shares, &edges, &upright, &depth_of);
            };
            for ((v, level), share) in laid.moving.iter().zip(&shares) {
                share_of[*level][*v as usize] = *share;
            }
            if !self.leave_out(&laid, &stubborn.places) {
                return Err(stubborn);
            }
        }
    }

    /// The share of its way that each place has room for before it meets what comes from the far side: surfaces that are both
    /// chosen share what lies between them.
    ///
    /// One ray for each place.
    fn room(&self, laid: &Laid) -> Vec<f64> {
        // Floors are looked over deeper than they lie, from both sides, and are not to touch there.
        const CLEAR_MM: f64 = 2.5 * SPARE_MM;
        let facets = &self.solid.mesh.facets;
        let one = |((v, level), way): (&(u32, usize), &[f64; 3])| {
            let full = length(*way);
            if full <= 0.0 {
                return 1.0;
            }
            let hits = self.tree.hits(self.solid.mesh.vertices[*v as usize], *way);
            let far = hits.iter().find(|(_, f)| !facets[*f as usize].contains(v));
            let Some((times, far)) = far else {
                return 1.0;
            };
            let other_mm = match self.choice[*far as usize] {
                REST => 0.0,
                choice => laid.depths_mm[laid.level_of[choice as usize]],
            };
            let apart = times * full;
            let own = laid.depths_mm[*level];
            if own + other_mm + CLEAR_MM < apart {
                return 1.0;
            }
            // In proportion to the depths, as both do not find room.
            let shared = apart * own / (own + other_mm) - CLEAR_MM;
            (shared / own).clamp((LEAST_MM / own).min(1.0), 1.0)
        };
        laid.moving.par_iter().zip(&laid.ways).map(one).collect()
    }

    /// Leaves the facets around some places to the rest, and whatever then hangs on by a single point. False if that is
    /// more than a little of the choice.
    fn leave_out(&mut self, laid: &Laid, places: &[u32]) -> bool {
        let mut out = vec![false; self.solid.mesh.vertices.len()];
        for place in &laid.place {
            for (v, place) in place.iter().enumerate() {
                out[v] |= places.binary_search(place).is_ok();
            }
        }
        self.leave_around(out)
    }

    /// Leaves what hangs on by a single point to the rest. False if that is more than a little of the choice.
    pub(super) fn leave_points(&mut self) -> bool {
        self.leave_around(vec![false; self.solid.mesh.vertices.len()])
    }

    fn leave_around(&mut self, mut out: Vec<bool>) -> bool {
        const MOST_SHARE: f64 = 0.05;
        let before = self.chosen_mm2();
        loop {
            for (facet, ids) in self.solid.mesh.facets.iter().enumerate() {
                if ids.iter().any(|v| out[*v as usize]) {
                    self.choice[facet] = REST;
                }
            }
            out.fill(false);
            match self.touching_point() {
                Some(v) => out[v as usize] = true,
                None => break,
            }
        }
        self.chosen_mm2() > (1.0 - MOST_SHARE) * before
    }

    /// Area of what is chosen, mm².
    fn chosen_mm2(&self) -> f64 {
        self.chosen_facets()
            .map(|(f, _)| facet_area(&self.solid.corners(f)))
            .sum()
    }

    /// A vertex where the border of one choice passes more than once: the lowest.
    pub(super) fn touching_point(&self) -> Option<u32> {
        let across = &self.surface.topology().across;
        let mut leaving: Vec<(u32, u32)> = Vec::new();
        for (facet, ids) in self.chosen_facets() {
            for (side, other) in across[facet].into_iter().enumerate() {
                if other != NO_FACET && self.choice[other as usize] != self.choice[facet] {
                    leaving.push((ids[side], self.choice[facet]));
                }
            }
        }
        leaving.sort_unstable();
        let twice = leaving.windows(2).find(|w| w[0] == w[1])?;
        Some(twice[0].0)
    }

    fn lay(&self, depths_mm: &[f64]) -> Laid {
        let mut levels = depths_mm.to_vec();
        levels.sort_by(f64::total_cmp);
        levels.dedup();
        let level_of: Vec<usize> = depths_mm
            .iter()
            .map(|d| levels.partition_point(|l| l < d))
            .collect();
        let mut laid = Laid {
            depths_mm: levels,
            level_of,
            moving: Vec::new(),
            place: Vec::new(),
            ways: Vec::new(),
        };
        for (level, depth_mm) in laid.depths_mm.iter().enumerate() {
            let first = laid.moving.len() as u32;
            let is_so_deep = |facet: usize| {
                self.choice[facet] != REST && laid.level_of[self.choice[facet] as usize] == level
            };
            let (moving, place) = self.places(&is_so_deep, *depth_mm, first);
            let ways = self.surface.ways(&moving, &|_| depth_mm + SPARE_MM);
            laid.moving.extend(moving.iter().map(|v| (*v, level)));
            laid.place.push(place);
            laid.ways.extend(ways);
        }
        laid
    }

    /// Vertices of some facets that get a place below, one alone of those that lie so close together that the floor would
    /// only be crumpled by them; and for each vertex, its place, counted from `first`.
    fn places(
        &self,
        is_chosen: &dyn Fn(usize) -> bool,
        depth_mm: f64,
        first: u32,
    ) -> (Vec<u32>, Vec<u32>) {
        // Well under a line's width, over the slivers that surfaces made from grids are full of.
        const CLOSE_MM: f64 = 0.024;
        let close_mm = CLOSE_MM.min(0.2 * depth_mm);
        let heads = heads(self.solid, is_chosen, close_mm);
        let mut place = vec![NONE; self.solid.mesh.vertices.len()];
        let mut moving = Vec::new();
        for (v, head) in heads.iter().enumerate().filter(|(v, h)| *v as u32 == **h) {
            place[v] = first + moving.len() as u32;
            moving.push(*head);
        }
        for (v, head) in heads.iter().enumerate().filter(|(_, h)| **h != NONE) {
            place[v] = place[*head as usize];
        }
        (moving, place)
    }

    /// Edges of the floors: two places and how far apart their vertices are, mm.
    fn edges(&self, laid: &Laid) -> Vec<(u32, u32, f64)> {
        let mut edges = Vec::new();
        for (facet, ids) in self.chosen_facets() {
            let place = &laid.place[laid.level_of[self.choice[facet] as usize]];
            for side in 0..3 {
                let [a, b] = [ids[side], ids[(side + 1) % 3]].map(|v| place[v as usize]);
                if a < b {
                    let at = |n: u32| self.solid.mesh.vertices[laid.moving[n as usize].0 as usize];
                    edges.push((a, b, length(sub(at(a), at(b)))));
                }
            }
        }
        edges.sort_by_key(|e| (e.0, e.1));
        edges.dedup_by(|x, y| (x.0, x.1) == (y.0, y.1));
        edges
    }

    fn chosen_facets(&self) -> impl Iterator<Item = (usize, &[u32; 3])> {
        let all = self.solid.mesh.facets.iter().enumerate();
        all.filter(|(f, _)| self.choice[*f] != REST)
    }

    /// The bodies with each place at its share of the way; none if stopped.
    fn carry_out(
        &self,
        laid: &Laid,
        shares: &[f64],
        go_on: &dyn Fn(f64) -> bool,
    ) -> Result<Option<Taken>, Fold> {
        const LAID: f64 = 0.3;
        const CLEAR: f64 = 0.8;
        if !go_on(LAID) {
            return Ok(None);
        }
        let solid = self.solid;
        let mut vertices = solid.mesh.vertices.clone();
        let first = vertices.len() as u32;
        for (((v, _), way), share) in laid.moving.iter().zip(&laid.ways).zip(shares) {
            let p = solid.mesh.vertices[*v as usize];
            vertices.push([0, 1, 2].map(|i| p[i] + share * way[i]));
        }
        let poles = Poles {
            place: &laid.place,
            first,
        };
        // The floors, facing out of the rest, and the walls along the borders, facing out of the choice that is named first.
        let mut floors: Vec<([u32; 3], u32)> = Vec::new();
        let mut turned = Fold {
            at: [0.0; 3],
            places: Vec::new(),
        };
        for (facet, ids) in self.chosen_facets() {
            let choice = self.choice[facet];
            let level = laid.level_of[choice as usize];
            let below = ids.map(|v| poles.foot(level, v));
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
            floors.push((below, choice));
        }
        if !turned.places.is_empty() {
            turned.places.sort_unstable();
            turned.places.dedup();
            return Err(turned);
        }
        let mut walls: Vec<([u32; 3], [u32; 2])> = Vec::new();
        self.each_border(|edge, [choice, other]| {
            let level_of = |c: u32| (c != REST).then(|| laid.level_of[c as usize]);
            let levels = [level_of(choice), level_of(other)];
            each_wall(&poles, edge, levels, |facet, side| {
                let sides = match side {
                    Side::Between => [choice, other],
                    Side::FirstToRest => [choice, REST],
                    Side::SecondToRest => [other, REST],
                };
                walls.push((facet, sides));
            });
        });
        let new = floors.iter().map(|f| f.0).chain(walls.iter().map(|w| w.0));
        let mut mesh = Mesh {
            vertices,
            facets: solid.mesh.facets.iter().copied().chain(new).collect(),
        };
        self.check_clear(&mesh, first)?;
        if !go_on(CLEAR) {
            return Ok(None);
        }
        for (n, (((v, level), way), s)) in
            laid.moving.iter().zip(&laid.ways).zip(shares).enumerate()
        {
            let share = laid.depths_mm[*level] / (laid.depths_mm[*level] + SPARE_MM);
            let p = solid.mesh.vertices[*v as usize];
            mesh.vertices[first as usize + n] = [0, 1, 2].map(|i| p[i] + share * s * way[i]);
        }
        let taken = self.divided(&mesh, &floors, &walls, laid.level_of.len());
        let is_sound = |s: &Solid| s.check().is_ok() && s.volume_mm3() > 0.0;
        let mut parts = taken.parts.iter().filter(|p| !p.mesh.facets.is_empty());
        if parts.all(is_sound) && is_sound(&taken.rest) {
            return Ok(Some(taken));
        }
        Err(Fold {
            at: solid.mesh.vertices[laid.moving[0].0 as usize],
            places: Vec::new(),
        })
    }

    /// Every edge between a choice and what is not of it, as the facet of the choice runs it, with both: of two choices the one
    /// that comes later has the word.
    fn each_border(&self, mut found: impl FnMut((u32, u32), [u32; 2])) {
        let across = &self.surface.topology().across;
        for (facet, ids) in self.chosen_facets() {
            let choice = self.choice[facet];
            for (side, other) in across[facet].into_iter().enumerate() {
                if other == NO_FACET {
                    continue;
                }
                let other = self.choice[other as usize];
                if other == REST || other < choice {
                    found((ids[side], ids[(side + 1) % 3]), [choice, other]);
                }
            }
        }
    }

    /// Every body with its facets: its own surface, its floor, its walls.
    fn divided(
        &self,
        mesh: &Mesh,
        floors: &[([u32; 3], u32)],
        walls: &[([u32; 3], [u32; 2])],
        count: usize,
    ) -> Taken {
        let turned = |[a, b, c]: &[u32; 3]| [*a, *c, *b];
        let mut facets: Vec<Vec<([u32; 3], Face)>> = vec![Vec::new(); count + 1];
        let body = |choice: u32| {
            if choice == REST {
                count
            } else {
                choice as usize
            }
        };
        for (facet, ids) in self.solid.mesh.facets.iter().enumerate() {
            facets[body(self.choice[facet])].push((*ids, self.solid.faces[facet]));
        }
        for (floor, choice) in floors {
            facets[body(*choice)].push((turned(floor), Face::CUT));
            facets[count].push((*floor, Face::CUT));
        }
        for (wall, [choice, other]) in walls {
            facets[body(*choice)].push((*wall, Face::CUT));
            facets[body(*other)].push((turned(wall), Face::CUT));
        }
        let mut bodies = facets.into_iter();
        let mut next = || {
            let facets = bodies.next().unwrap_or_default();
            Solid::gathered(&mesh.vertices, facets.into_iter())
        };
        let parts = (0..count).map(|_| next()).collect();
        Taken {
            parts,
            rest: next(),
        }
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
