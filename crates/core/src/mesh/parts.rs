//! Shells (facets joined through edges) and parts (a shell with the cavities inside it).

use super::rays::{RAYS, inner_point};
use super::{FacetTree, Mesh, NO_FACET, Topology};
use crate::geometry::{Bounds, cross, dot, facet_area, sub};
use rayon::prelude::*;
use rstar::RTree;
use rstar::primitives::{GeomWithData, Rectangle};
use rustc_hash::FxHashMap;
use serde::{Deserialize, Serialize};
use std::hash::{DefaultHasher, Hash, Hasher};

/// Volume, area and size of a set of facets.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Measures {
    /// Enclosed volume in mm³, positive when the facets face outward. Meaningless for an open shell.
    pub volume_mm3: f64,
    /// Surface area in mm².
    pub area_mm2: f64,
    /// The box around it, in mm.
    pub bounds: Bounds,
}

/// One body of a mesh: an outer shell together with any inside-out shells enclosed in it (its cavities).
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Part {
    /// Number of facets, cavities included.
    pub facets: u32,
    /// The part's lowest facet number.
    pub first_facet: u32,
    /// Whether every edge has a facet on both sides.
    pub is_closed: bool,
    /// Whether the outer shell faces inward.
    pub is_inside_out: bool,
    /// Volume (cavities taken off), area and box.
    pub measures: Measures,
    /// Parts that lie wholly inside this one, by index.
    pub encloses: Vec<u32>,
}

/// The parts of a mesh and the part each facet belongs to. Parts are numbered in order of their lowest facet.
pub(crate) fn find_parts(mesh: &Mesh, topology: &Topology) -> (Vec<Part>, Vec<u32>) {
    let (shell_of, shell_count) = shells(topology);
    let mut is_closed = vec![true; shell_count];
    for (facet, _) in topology.open.iter().chain(&topology.flipped) {
        is_closed[shell_of[*facet as usize] as usize] = false;
    }
    for facet in &topology.collapsed {
        is_closed[shell_of[*facet as usize] as usize] = false;
    }
    let measures = measure(mesh, &shell_of, shell_count);
    let containers = containers(mesh, &shell_of, &measures, &is_closed);

    // A closed inside-out shell directly within an outward one is a cavity of it.
    let depth = |s: usize| containers[s].len();
    let innermost = |s: usize| {
        containers[s]
            .iter()
            .copied()
            .max_by_key(|c| depth(*c as usize))
    };
    let is_cavity = |s: usize| {
        is_closed[s]
            && measures[s].volume_mm3 < 0.0
            && innermost(s).is_some_and(|c| measures[c as usize].volume_mm3 > 0.0)
    };
    let body: Vec<u32> = (0..shell_count)
        .map(|s| {
            if is_cavity(s) {
                innermost(s).unwrap_or(s as u32)
            } else {
                s as u32
            }
        })
        .collect();
    let mut number = vec![u32::MAX; shell_count];
    let mut parts: Vec<Part> = Vec::new();
    let mut part_of = vec![0u32; mesh.facets.len()];
    for (facet, shell) in shell_of.iter().enumerate() {
        let outer = body[*shell as usize] as usize;
        if number[outer] == u32::MAX {
            number[outer] = parts.len() as u32;
            parts.push(Part {
                facets: 0,
                first_facet: facet as u32,
                is_closed: true,
                is_inside_out: is_closed[outer] && measures[outer].volume_mm3 < 0.0,
                measures: Measures {
                    volume_mm3: 0.0,
                    area_mm2: 0.0,
                    bounds: Bounds::EMPTY,
                },
                encloses: Vec::new(),
            });
        }
        parts[number[outer] as usize].facets += 1;
        part_of[facet] = number[outer];
    }
    for shell in 0..shell_count {
        let part = &mut parts[number[body[shell] as usize] as usize];
        part.is_closed &= is_closed[shell];
        part.measures.volume_mm3 += measures[shell].volume_mm3;
        part.measures.area_mm2 += measures[shell].area_mm2;
        part.measures.bounds.join(&measures[shell].bounds);
    }
    for shell in (0..shell_count).filter(|s| !is_cavity(*s)) {
        for container in &containers[shell] {
            if body[*container as usize] == *container {
                let (outer, inner) = (number[*container as usize], number[shell]);
                parts[outer as usize].encloses.push(inner);
            }
        }
    }
    for part in &mut parts {
        part.encloses.sort_unstable();
    }
    (parts, part_of)
}

/// The same parts measured anew, after they were moved.
pub(crate) fn remeasured(mesh: &Mesh, parts: &[Part], part_of: &[u32]) -> Vec<Part> {
    let measures = measure(mesh, part_of, parts.len());
    let is_closed: Vec<bool> = parts.iter().map(|p| p.is_closed).collect();
    let containers = containers(mesh, part_of, &measures, &is_closed);
    let mut moved: Vec<Part> = parts
        .iter()
        .zip(&measures)
        .map(|(part, measures)| Part {
            measures: *measures,
            encloses: Vec::new(),
            ..part.clone()
        })
        .collect();
    for (inner, outers) in containers.iter().enumerate() {
        for outer in outers {
            moved[*outer as usize].encloses.push(inner as u32);
        }
    }
    moved
}

/// Parts whose facets are told: measured, and which lies within which.
pub(crate) fn named_parts(
    mesh: &Mesh,
    topology: &Topology,
    facets_of: &[u32],
    part_of: &[u32],
) -> Vec<Part> {
    let mut first_facet = 0;
    let mut parts: Vec<Part> = facets_of
        .iter()
        .map(|facets| {
            let part = Part {
                facets: *facets,
                first_facet,
                is_closed: true,
                is_inside_out: false,
                measures: Measures {
                    volume_mm3: 0.0,
                    area_mm2: 0.0,
                    bounds: Bounds::EMPTY,
                },
                encloses: Vec::new(),
            };
            first_facet += facets;
            part
        })
        .collect();
    let open = topology.open.iter().chain(&topology.flipped);
    for facet in open.map(|(f, _)| f).chain(&topology.collapsed) {
        parts[part_of[*facet as usize] as usize].is_closed = false;
    }
    let mut parts = remeasured(mesh, &parts, part_of);
    for part in &mut parts {
        part.is_inside_out = part.is_closed && part.measures.volume_mm3 < 0.0;
    }
    parts
}

/// Shell number of each facet, numbered by lowest facet, and how many there are.
pub fn shells(topology: &Topology) -> (Vec<u32>, usize) {
    const NONE: u32 = u32::MAX;
    let mut shell_of = vec![NONE; topology.across.len()];
    let mut count = 0;
    let mut stack = Vec::new();
    for seed in 0..shell_of.len() {
        if shell_of[seed] != NONE {
            continue;
        }
        shell_of[seed] = count;
        stack.push(seed as u32);
        while let Some(facet) = stack.pop() {
            for other in topology.across[facet as usize] {
                if other != NO_FACET && shell_of[other as usize] == NONE {
                    shell_of[other as usize] = count;
                    stack.push(other);
                }
            }
        }
        count += 1;
    }
    (shell_of, count as usize)
}

/// Measures of every shell. Volumes are summed from tetrahedra to the middle of the mesh's box, so that digits
/// survive far from the origin.
fn measure(mesh: &Mesh, shell_of: &[u32], count: usize) -> Vec<Measures> {
    let origin = mesh.bounds().centre();
    let none = Measures {
        volume_mm3: 0.0,
        area_mm2: 0.0,
        bounds: Bounds::EMPTY,
    };
    let mut all = vec![none; count];
    for (facet, shell) in shell_of.iter().enumerate() {
        let corners = mesh.corners(facet as u32);
        let m = &mut all[*shell as usize];
        let [a, b, c] = corners.map(|p| sub(p, origin));
        m.volume_mm3 += dot(a, cross(b, c)) / 6.0;
        m.area_mm2 += facet_area(&corners);
        for corner in corners {
            m.bounds.add(corner);
        }
    }
    all
}

/// For every shell, the closed shells that enclose it, by counting crossings along rays from one of its facets.
///
/// Only shells whose box lies in that of a closed one are asked, and of shells of the very same facets, which cannot enclose
/// one another, only the first.
fn containers(
    mesh: &Mesh,
    shell_of: &[u32],
    measures: &[Measures],
    is_closed: &[bool],
) -> Vec<Vec<u32>> {
    let mut containers = vec![Vec::new(); measures.len()];
    if measures.len() < 2 || !is_closed.contains(&true) {
        return containers;
    }
    let like = alike(mesh, shell_of, measures);
    let (asked, may_hold) = candidates(measures, is_closed, &like);
    if asked.is_empty() {
        return containers;
    }
    let counts = |f: &u32| may_hold[shell_of[*f as usize] as usize];
    let tree = FacetTree::build(mesh, (0..mesh.facets.len() as u32).filter(counts));
    let mut first_facet = vec![u32::MAX; measures.len()];
    for (facet, shell) in shell_of.iter().enumerate().rev() {
        first_facet[*shell as usize] = facet as u32;
    }
    let held_by = |shell: usize| -> Vec<u32> {
        let from = inner_point(&mesh.corners(first_facet[shell]));
        // Each ray names the shells that it leaves more often than it enters them; two of three have to name one.
        let named = |direction: [f64; 3]| -> Vec<u32> {
            let mut crossed: Vec<u32> = Vec::new();
            tree.each_hit(from, direction, |_, f| crossed.push(shell_of[f as usize]));
            crossed.retain(|s| *s as usize != shell);
            crossed.sort_unstable();
            let odd = crossed.chunk_by(|a, b| a == b).filter(|g| g.len() % 2 == 1);
            odd.map(|same| same[0]).collect()
        };
        let [first, second, third] = RAYS;
        let mut votes = named(first);
        let others = named(second);
        let agreed = if votes == others {
            votes
        } else {
            votes.extend(others);
            votes.extend(named(third));
            votes.sort_unstable();
            let twice = votes.chunk_by(|a, b| a == b).filter(|v| v.len() >= 2);
            twice.map(|v| v[0]).collect()
        };
        // What fills a pocket lies on the surface of the other, not within it.
        const TOUCH_MM: f64 = 1e-5;
        let mut touched: Vec<u32> = tree
            .within(from, TOUCH_MM)
            .iter()
            .map(|f| shell_of[*f as usize])
            .collect();
        touched.sort_unstable();
        agreed
            .into_iter()
            .filter(|s| {
                touched.binary_search(s).is_err()
                    && measures[*s as usize].bounds.holds(&measures[shell].bounds)
            })
            .collect()
    };
    let found: Vec<(usize, Vec<u32>)> = asked.into_par_iter().map(|s| (s, held_by(s))).collect();
    for (shell, held) in found {
        containers[shell] = held;
    }
    // What holds one holds all that are like it, and what one holds all that are like it hold.
    let mut others: FxHashMap<u32, Vec<u32>> = FxHashMap::default();
    for (shell, first) in like.iter().enumerate().filter(|(s, f)| s != *f) {
        others.entry(*first as u32).or_default().push(shell as u32);
    }
    if !others.is_empty() {
        for found in &mut containers {
            let more: Vec<u32> = found
                .iter()
                .filter_map(|c| others.get(c))
                .flatten()
                .copied()
                .collect();
            found.extend(more);
            found.sort_unstable();
        }
        for (shell, first) in like.iter().enumerate().filter(|(s, f)| s != *f) {
            containers[shell] = containers[*first].clone();
        }
    }
    containers
}

/// For each shell the first one that consists of the very same facets, in whatever order.
///
/// Facets are compared only of shells that have as many of them and the same box as another.
fn alike(mesh: &Mesh, shell_of: &[u32], measures: &[Measures]) -> Vec<usize> {
    let mut facets = vec![0u32; measures.len()];
    for shell in shell_of {
        facets[*shell as usize] += 1;
    }
    let outside: Vec<_> = measures
        .iter()
        .zip(&facets)
        .map(|(m, facets)| {
            (
                m.bounds.min.map(f64::to_bits),
                m.bounds.max.map(f64::to_bits),
                *facets,
            )
        })
        .collect();
    let mut with: FxHashMap<_, u32> = FxHashMap::default();
    for key in &outside {
        *with.entry(key).or_default() += 1;
    }
    let has_like: Vec<bool> = outside.iter().map(|key| with[key] > 1).collect();
    let mut sums = vec![0u64; measures.len()];
    for (facet, shell) in shell_of.iter().enumerate() {
        if has_like[*shell as usize] {
            let mut hasher = DefaultHasher::new();
            let mut corners = mesh.corners(facet as u32).map(|c| c.map(f64::to_bits));
            corners.sort_unstable();
            corners.hash(&mut hasher);
            // A sum does not mind the order.
            let sum = &mut sums[*shell as usize];
            *sum = sum.wrapping_add(hasher.finish());
        }
    }
    let mut first = FxHashMap::default();
    let find = |(shell, key)| *first.entry(key).or_insert(shell);
    outside.iter().zip(&sums).enumerate().map(find).collect()
}

/// Shells that lie in the box of a closed one, ascending, and for each shell whether its box holds another.
///
/// # Cost
/// n log n, and a comparison for each box around a shell's lowest corner.
fn candidates(
    measures: &[Measures],
    is_closed: &[bool],
    like: &[usize],
) -> (Vec<usize>, Vec<bool>) {
    let firsts = || (0..measures.len()).filter(|s| like[*s] == *s);
    let boxed = |s: usize| {
        let Bounds { min, max } = measures[s].bounds;
        GeomWithData::new(Rectangle::from_corners(min, max), s)
    };
    let closed = RTree::bulk_load(firsts().filter(|s| is_closed[*s]).map(boxed).collect());
    let mut may_hold = vec![false; measures.len()];
    let mut is_held = |shell: &usize| {
        let own = &measures[*shell].bounds;
        let mut any = false;
        for outer in closed.locate_all_at_point(own.min) {
            if outer.data != *shell && measures[outer.data].bounds.holds(own) {
                may_hold[outer.data] = true;
                any = true;
            }
        }
        any
    };
    let asked = firsts().filter(&mut is_held).collect();
    (asked, may_hold)
}
