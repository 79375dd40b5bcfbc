//! Which side up: many directions compared by what a look at the surface says of them, the best then planned in full as ways.

use super::task::task;
use super::ways::{Way, WayGroup};
use crate::carve::Pieces;
use crate::geometry::{dot, eigen, facet_area, facet_normal, middle, normalised, sub};
use crate::job::{Axis, Edit, Job, JobEdit, PlaceEdit, Placing, Target};
use crate::layers::{LayerHeights, LayerShare, RegionShare};
use crate::machine::Spool;
use crate::plan::{Estimate, Task, estimate};
use rayon::prelude::*;

/// A way to stand, from a look at the surface.
#[derive(Debug, Clone, PartialEq)]
pub struct Pose {
    /// What faces down, as a unit vector where everything stands now.
    pub down: [f64; 3],
    /// About what its swaps come to: as if every colour on the surface of a layer printed there.
    pub about: Estimate,
    /// Height, mm.
    pub height_mm: f64,
    /// Area that looks down more steeply than it prints without support, mm²; without what lies on the bed.
    pub overhang_mm2: f64,
}

/// A flat face smaller than this share of the largest is not tried, and neither are more than so many.
const FLAT_SHARE: f64 = 0.02;
const MOST_FLAT: usize = 24;

/// Directions all around besides.
const AROUND: usize = 64;

/// Cosine of the turn below which two directions are one (3°).
const SAME: f64 = 0.9986;

/// Steepest overhang that prints without support, as a cosine from straight down (45°; common practice, no source).
const OVERHANG: f64 = std::f64::consts::FRAC_1_SQRT_2;

/// One piece of the surface.
struct Facet {
    region: usize,
    corners: [[f64; 3]; 3],
    normal: [f64; 3],
    area: f64,
}

/// Compares directions: those in which flat faces lie down, the axes, the principal axes and a sphere of others, at least fifty. In the
/// order of their purge, then of swaps, time and overhang.
///
/// # Cost
/// Linear in pieces of the surface for each direction; on all threads.
pub fn poses(job: &Job, spools: &[Spool]) -> Vec<Pose> {
    let facets = surface(job);
    if facets.is_empty() {
        return Vec::new();
    }
    let task = task(job, spools);
    let tried = directions(&facets).into_par_iter();
    let mut found: Vec<Pose> = tried
        .filter_map(|down| pose(job, &task, &facets, down))
        .collect();
    found.sort_by(|a, b| {
        let by_purge = a.about.purge_mm3.total_cmp(&b.about.purge_mm3);
        by_purge
            .then(a.about.swaps.cmp(&b.about.swaps))
            .then(a.about.seconds.total_cmp(&b.about.seconds))
            .then(a.overhang_mm2.total_cmp(&b.overhang_mm2))
    });
    found
}

/// The best few poses as ways, if a look at the surface says that they purge less than the present one.
pub fn pose_ways(job: &Job, spools: &[Spool], most: usize) -> Vec<Way> {
    let found = poses(job, spools);
    let is_now = |p: &&Pose| p.down[2] < -SAME;
    let Some(now) = found.iter().find(is_now).map(|p| p.about) else {
        return Vec::new();
    };
    // The other side up is a way of its own.
    let is_known = |p: &&Pose| p.down[2].abs() > SAME;
    let is_better = |p: &&Pose| !is_known(p) && p.about.purge_mm3 < 0.98 * now.purge_mm3;
    let ways = found.iter().filter(is_better).take(most).map(|pose| {
        let [x, y, z] = pose.down.map(|c| (100.0 * c).round() / 100.0 + 0.0);
        Way {
            key: format!("pose-{x}-{y}-{z}"),
            group: WayGroup::Side,
            keeps_look: true,
            name: format!(
                "{}: {:.0} mm tall, {:.0} mm² overhang",
                side_in_words(pose.down),
                pose.height_mm,
                pose.overhang_mm2
            ),
            edit: Some(turned(pose.down)),
            cannot: None,
            depth: None,
        }
    });
    ways.collect()
}

/// Which side faces down, in words.
fn side_in_words(down: [f64; 3]) -> String {
    const SIDES: [([f64; 3], &str); 6] = [
        ([1.0, 0.0, 0.0], "Its right side down"),
        ([-1.0, 0.0, 0.0], "Its left side down"),
        ([0.0, 1.0, 0.0], "Its back down"),
        ([0.0, -1.0, 0.0], "Its front down"),
        ([0.0, 0.0, 1.0], "Its top down"),
        ([0.0, 0.0, -1.0], "As it stands"),
    ];
    match SIDES.iter().find(|(side, _)| dot(*side, down) > SAME) {
        Some((_, words)) => (*words).to_string(),
        None => format!(
            "Tilted by {:.0}°",
            (-down[2]).clamp(-1.0, 1.0).acos().to_degrees()
        ),
    }
}

/// Turns everything so that a direction comes to face down: about x until it lies over the x axis, then about y.
fn turned(down: [f64; 3]) -> Edit {
    let [x, y, z] = down;
    let flat = y.hypot(z);
    let about_x = if flat > 1e-9 {
        (-y).atan2(-z).to_degrees()
    } else {
        0.0
    };
    let about_y = x.atan2(flat).to_degrees();
    let turn = |axis: Axis, degrees: f64| {
        Edit::Place(PlaceEdit::Place {
            target: Target::Everything,
            placing: Placing::Turn { axis, degrees },
        })
    };
    let both = [(Axis::X, about_x), (Axis::Y, about_y)];
    let turns = both.into_iter().filter(|(_, d)| d.abs() > 1e-9);
    let mut edits: Vec<Edit> = turns.map(|(axis, degrees)| turn(axis, degrees)).collect();
    if edits.len() == 1 {
        return edits.remove(0);
    }
    Edit::Job(JobEdit::Several {
        what: side_in_words(down),
        edits,
    })
}

/// The surface of everything that is printed, by region.
fn surface(job: &Job) -> Vec<Facet> {
    let mut found = Vec::new();
    for (index, model) in job.models.iter().enumerate() {
        let pieces = Pieces::of(&model.open, &model.labels);
        for piece in (0..pieces.end()).filter(|p| pieces.is_piece(*p)) {
            let facet = pieces.facet(piece);
            let part = model.open.part_of[facet as usize] as usize;
            let corners = pieces.corners(piece);
            let Some(normal) = facet_normal(&corners).filter(|_| model.parts[part].is_printed)
            else {
                continue;
            };
            found.push(Facet {
                region: job.region_of_label(index, facet, pieces.label(piece)) as usize,
                area: facet_area(&corners),
                corners,
                normal,
            });
        }
    }
    found
}

fn directions(facets: &[Facet]) -> Vec<[f64; 3]> {
    let mut found: Vec<[f64; 3]> = Vec::new();
    let mut add = |d: [f64; 3]| {
        if let Some(d) = normalised(d)
            && found.iter().all(|f| dot(*f, d) < SAME)
        {
            found.push(d);
        }
    };
    for axis in [2, 0, 1] {
        for sign in [-1.0, 1.0] {
            let mut d = [0.0; 3];
            d[axis] = sign;
            add(d);
        }
    }
    // Flat faces: area by direction, to half a hundredth.
    let mut flat: std::collections::HashMap<[i32; 3], (f64, [f64; 3])> = Default::default();
    for facet in facets {
        let key = facet.normal.map(|c| (200.0 * c).round() as i32);
        let (area, sum) = flat.entry(key).or_default();
        *area += facet.area;
        (0..3).for_each(|i| sum[i] += facet.area * facet.normal[i]);
    }
    let mut flat: Vec<([i32; 3], f64, [f64; 3])> = flat
        .into_iter()
        .map(|(k, (area, sum))| (k, area, sum))
        .collect();
    flat.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
    let least = flat.first().map_or(0.0, |f| FLAT_SHARE * f.1);
    flat.iter()
        .take(MOST_FLAT)
        .filter(|f| f.1 >= least)
        .for_each(|f| add(f.2));
    for axis in principal_axes(facets) {
        add(axis);
        add(axis.map(|c| -c));
    }
    // A spiral from pole to pole is spread evenly.
    let golden = std::f64::consts::PI * (3.0 - 5f64.sqrt());
    for n in 0..AROUND {
        let z = 1.0 - (2 * n + 1) as f64 / AROUND as f64;
        let (flat, angle) = ((1.0 - z * z).sqrt(), golden * n as f64);
        add([flat * angle.cos(), flat * angle.sin(), z]);
    }
    found
}

/// Axes of the surface's spread by area.
fn principal_axes(facets: &[Facet]) -> [[f64; 3]; 3] {
    let whole: f64 = facets.iter().map(|f| f.area).sum();
    let mut centre = [0.0; 3];
    for f in facets {
        let m = middle(&f.corners);
        (0..3).for_each(|i| centre[i] += f.area / whole.max(1e-12) * m[i]);
    }
    let mut spread = [[0.0; 3]; 3];
    for f in facets {
        let d = sub(middle(&f.corners), centre);
        for (row, along) in spread.iter_mut().zip(d) {
            (0..3).for_each(|k| row[k] += f.area * along * d[k]);
        }
    }
    eigen(spread).1
}

fn pose(job: &Job, task: &Task, facets: &[Facet], down: [f64; 3]) -> Option<Pose> {
    let height = |p: [f64; 3]| -dot(p, down);
    let (mut low, mut high) = (f64::INFINITY, f64::NEG_INFINITY);
    for f in facets {
        for c in f.corners {
            low = low.min(height(c));
            high = high.max(height(c));
        }
    }
    let printer = &job.printer;
    let heights = LayerHeights::new(high - low, printer.first_layer_mm, printer.layer_mm);
    let count = heights.spans.len();
    let regions = job.regions.len();
    // How many pieces of each region begin and end in a layer.
    let mut marks = vec![0i32; regions * (count + 1)];
    let mut overhang_mm2 = 0.0;
    let mut insides: Vec<(usize, f64, f64)> = Vec::new();
    for model in &job.models {
        for (part, open) in model
            .parts
            .iter()
            .zip(&model.open.parts)
            .filter(|(p, _)| p.is_printed)
        {
            let b = open.measures.bounds;
            let corners = (0..8).map(|n: usize| {
                [0, 1, 2].map(|i| if n >> i & 1 == 1 { b.max[i] } else { b.min[i] })
            });
            let z = corners.map(|c| height(c) - low);
            let (a, b) = z.fold((f64::INFINITY, 0.0f64), |(a, b), z| (a.min(z), b.max(z)));
            insides.push((part.own as usize, a, b));
        }
    }
    let mut mark = |region: usize, a: f64, b: f64| {
        let layers = heights.cut_by(a, b);
        if layers.start < layers.end {
            marks[region * (count + 1) + layers.start] += 1;
            marks[region * (count + 1) + layers.end] -= 1;
        }
    };
    for f in facets {
        let z = f.corners.map(|c| height(c) - low);
        let (a, b) = (z[0].min(z[1]).min(z[2]), z[0].max(z[1]).max(z[2]));
        let up = -dot(f.normal, down);
        // A colour goes in below what looks up and above what looks down.
        let soak = job.soak_mm(f.region as u16).min(printer.line_width_mm);
        mark(f.region, a - soak * up.max(0.0), b + soak * (-up).max(0.0));
        if up < -OVERHANG && b > printer.first_layer_mm {
            overhang_mm2 += f.area;
        }
    }
    let is_all_through = job
        .live_regions()
        .all(|(n, r)| n == 0 || r.depth.is_through());
    if !is_all_through {
        for (own, a, b) in insides {
            mark(own, a, b);
        }
    }
    let mut running = vec![0; regions];
    let shares: Vec<LayerShare> = heights
        .spans
        .iter()
        .enumerate()
        .map(|(layer, span)| LayerShare {
            z0_mm: span.0,
            z1_mm: span.1,
            regions: (0..regions)
                .map(|r| {
                    running[r] += marks[r * (count + 1) + layer];
                    let area_mm2 = f64::from(u8::from(running[r] > 0));
                    RegionShare {
                        area_mm2,
                        solid_mm2: area_mm2,
                    }
                })
                .collect(),
            too_thin: Vec::new(),
            bodies: Vec::new(),
            thin_bodies: Vec::new(),
        })
        .collect();
    Some(Pose {
        down,
        about: estimate(task, &shares).ok()?,
        height_mm: high - low,
        overhang_mm2,
    })
}
