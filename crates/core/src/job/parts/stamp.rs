//! Drawings and words as relief: raised from a flat face, sunken into it, or cut through.

use super::fill::boolean_problem;
use super::progress::Progress;
use super::replace::NewPart;
use crate::drawing::{DrawingSource, Laying, prism};
use crate::geometry::{dot, facet_area, middle, sub};
use crate::job::apply::refuse;
use crate::job::edits::Relief;
use crate::job::history::Models;
use crate::job::state::Job;
use crate::limits::RELIEF;
use crate::mesh::Mesh;
use crate::model::Place;
use crate::problem::Problem;
use crate::shapes::Area;
use crate::solids::{Face, Solid, Wanted, boolean};

/// A drawing as an edit stamps it.
pub(super) struct Stamping<'a> {
    pub(super) at: &'a Place,
    pub(super) drawing: &'a DrawingSource,
    pub(super) laying: &'a Laying,
    pub(super) regions: &'a [Option<String>],
    pub(super) relief: Relief,
}

/// How far what is raised reaches into the part below it, mm, so that both are one body.
const BITE_MM: f64 = 0.2;

/// How far a cut stands out beyond the face, mm.
const BEYOND_MM: f64 = 1.0;

impl Job {
    pub(super) fn stamp(
        &mut self,
        asked: &Stamping<'_>,
        models: &dyn Models,
        progress: Progress<'_>,
    ) -> Result<(), Problem> {
        let far = |v: &str| format!("A relief of {v} cannot be made");
        match asked.relief {
            Relief::Raised { mm } | Relief::Sunken { mm } => RELIEF.check(mm, "relief", far)?,
            Relief::Through => {}
        }
        let frame = asked.laying.frame()?;
        let Some(axes) = frame.flat_axes() else {
            let mend = "Lay it straight, on a flat face.";
            let what = "What is wound around an axis cannot be raised or cut";
            return Err(refuse("relief-wound", what, "laying", mend));
        };
        let (model, part) = self.free_part_at(asked.at)?;
        let flat = models.drawing(asked.drawing)?;
        let (areas, takers) = self.taken_areas(&flat, asked.regions)?;
        let turn = asked.laying.on_page(flat.size_mm);
        let flat_of = |axes: &[[f64; 3]; 3], p: [f64; 3]| {
            let d = sub(p, asked.laying.at);
            [dot(d, axes[0]), dot(d, axes[1]), -dot(d, axes[2])]
        };
        let own = self.models[model].parts[part].clone();
        let mut body = self.solid(model, part);
        let before = body.volume_mm3();
        let size = body.bounds().size();
        let span = match asked.relief {
            Relief::Raised { mm } => [-BITE_MM, mm],
            Relief::Sunken { mm } => [-mm, BEYOND_MM],
            Relief::Through => [-2.0 * size.into_iter().sum::<f64>(), BEYOND_MM],
        };
        let count = areas.len();
        for (n, (area, taker)) in areas.iter().zip(takers).enumerate() {
            progress.piece(n, count).begin()?;
            let label = taker.filter(|region| *region != own.own);
            let laid = turned(area, |p| turn.laid(p));
            let (mut mesh, laid) = prism(&laid, span);
            let reach = match asked.relief {
                Relief::Raised { .. } => Area::default(),
                Relief::Sunken { .. } | Relief::Through => laid.offset(0.01),
            };
            if mesh.facets.is_empty() {
                continue;
            }
            for v in &mut mesh.vertices {
                let [x, y, z] = *v;
                *v = [0, 1, 2]
                    .map(|i| asked.laying.at[i] + x * axes[0][i] + y * axes[1][i] - z * axes[2][i]);
            }
            let mut tool = Solid::plain(mesh);
            let face = Face {
                label,
                is_inner: false,
            };
            tool.faces.iter_mut().for_each(|f| *f = face);
            let wanted = match asked.relief {
                Relief::Raised { .. } => Wanted::United,
                Relief::Sunken { .. } | Relief::Through => Wanted::Without,
            };
            if wanted == Wanted::United {
                let held = boolean(&body, &tool, Wanted::Shared)
                    .map_err(|e| boolean_problem([&own.name, &asked.drawing.name()], &e))?;
                check_stands(&held.mesh, laid, |p| flat_of(&axes, p), &own.name)?;
            }
            let mut cut = boolean(&body, &tool, wanted)
                .map_err(|e| boolean_problem([&own.name, &asked.drawing.name()], &e))?;
            if wanted == Wanted::Without {
                // Floor and walls are surface, and the colour's.
                for (number, ids) in cut.mesh.facets.iter().enumerate() {
                    if cut.faces[number] != Face::CUT {
                        continue;
                    }
                    let corners = ids.map(|v| cut.mesh.vertices[v as usize]);
                    let [x, y, z] = flat_of(&axes, middle(&corners));
                    if z > span[0] - 0.01 && z < span[1] + 0.01 && reach.holds([x, y]) {
                        cut.faces[number] = face;
                    }
                }
            }
            body = cut;
        }
        if body.mesh.facets.is_empty() {
            let what = format!("Nothing of {} would be left", own.name);
            let mend = "Lay it so that something stays around it.";
            return Err(refuse("relief-nothing", what, "laying", mend));
        }
        if (body.volume_mm3() - before).abs() < 1e-6 {
            let what = format!("It does not meet {}", own.name);
            let mend = "Click on a flat face of the part.";
            return Err(refuse("laying-misses", what, "laying", mend));
        }
        self.replace_parts(model, vec![(part, vec![NewPart::instead(&own, body)])]);
        Ok(())
    }
}

/// Whether every island of what is raised stands on the part with at least half of it: the rest would fall off.
///
/// `held`: what of it reaches into the part; `flat_of`: a place as laid out, with its height over the face.
fn check_stands(
    held: &Mesh,
    laid: Area,
    flat_of: impl Fn([f64; 3]) -> [f64; 3],
    part: &str,
) -> Result<(), Problem> {
    let islands = laid.islands();
    let mut standing = vec![0.0; islands.len()];
    let bounds: Vec<_> = islands.iter().map(Area::bounds).collect();
    for facet in 0..held.facets.len() as u32 {
        let corners = held.corners(facet).map(&flat_of);
        let is_at_the_bottom = |p: &[f64; 3]| (p[2] + BITE_MM).abs() < 0.01 * BITE_MM;
        if !corners.iter().all(is_at_the_bottom) {
            continue;
        }
        let [x, y, _] = middle(&corners);
        let is_there = |n: &usize| {
            let within = |(low, high): ([f64; 2], [f64; 2])| {
                (low[0]..=high[0]).contains(&x) && (low[1]..=high[1]).contains(&y)
            };
            bounds[*n].is_some_and(within) && islands[*n].holds([x, y])
        };
        if let Some(n) = (0..islands.len()).find(is_there) {
            standing[n] += facet_area(&corners);
        }
    }
    let hangs = |(island, stands): &(&Area, f64)| *stands < 0.5 * island.mm2();
    let hanging = islands.iter().zip(standing).filter(hangs).count();
    if hanging == 0 {
        return Ok(());
    }
    let what = match islands.len() {
        1 => format!("Most of it would not stand on {part}"),
        all if hanging == all => format!("None of the {all} pieces of it would stand on {part}"),
        all => format!("Of the {all} pieces of it, {hanging} would not stand on {part}"),
    };
    let mend = "Lay it on a flat face that is large enough for it, or make it smaller.";
    Err(refuse("relief-hangs", what, "laying", mend))
}

/// An area with every corner elsewhere; turned over, its rings still run the right way.
fn turned(area: &Area, to: impl Fn([f64; 2]) -> [f64; 2]) -> Area {
    let rings: Vec<Vec<[f64; 2]>> = area
        .rings_mm()
        .into_iter()
        .map(|r| r.into_iter().map(&to).collect())
        .collect();
    Area::wound(&rings, crate::shapes::Winding::EvenOdd)
}
