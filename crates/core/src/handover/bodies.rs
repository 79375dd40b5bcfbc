//! The print as closed bodies that share no volume: what a program that knows only shapes can load.

use super::check_not_empty;
use super::slices::{Slice, sheets_between, slices};
use crate::Problem;
use crate::colour::Colour;
use crate::job::{Job, JobModel};
use crate::solids::{
    Face, Meeting, SheetError, Sheets, Solid, ThroughError, Wanted, boolean, capped, meetings,
    sheets, straight_through,
};
use serde::{Deserialize, Serialize};

/// What becomes of colour on the surface of a part.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum BodyDepth {
    /// Each region is a body of its own, as deep as it soaks.
    #[default]
    Soak,
    /// Each region is a body straight through the part; where its surface turns too far for that, as deep as it soaks.
    Through,
    /// It is left out: each part is one body.
    Surface,
}

/// One body.
#[derive(Debug, Clone)]
pub struct ClosedBody {
    /// Name of the part it is of.
    pub part: String,
    /// The part: number of its model, and its number in that.
    pub of: (usize, usize),
    /// Number of its region.
    pub number: u16,
    /// Name of the region.
    pub region: String,
    /// The region's colour.
    pub colour: Colour,
    /// Volume, mm³.
    pub volume_mm3: f64,
    /// Whether its surface encloses it without a gap.
    pub is_closed: bool,
    /// Its surface, standing on the bed.
    pub solid: Solid,
}

/// The whole print as bodies.
#[derive(Debug, Clone, Default)]
pub struct ClosedBodies {
    /// By part, highest rank first, and in each by region, the part's own last.
    pub bodies: Vec<ClosedBody>,
    /// What is not as it was asked for, with what can be done.
    pub told: Vec<Problem>,
    /// Whether a region was made a body as deep as it soaks: those only come near to what the layers print.
    pub is_soaked: bool,
}

/// All printed parts as closed bodies. What several parts share belongs to the one of the highest rank and is cut out of the
/// others; colour on the surface is as `depth` says. None if `go_on`, told the finished share, stops it.
///
/// # Errors
/// `export-empty` for a job without models.
///
/// # Cost
/// That of [`meetings`] for the parts, and of [`sheets`] for each that is painted.
pub fn closed_bodies(
    job: &Job,
    depth: BodyDepth,
    go_on: &(dyn Fn(f64) -> bool + Sync),
) -> Result<Option<ClosedBodies>, Problem> {
    check_not_empty(job)?;
    let mut made = ClosedBodies::default();
    let Some(parts) = disjoint(job, &mut made.told, go_on) else {
        return Ok(None);
    };
    let count = parts.len();
    for (n, ((model, part), solid)) in parts.into_iter().enumerate() {
        let of_part = |done: f64| {
            go_on(SHARED_SHARE + (1.0 - SHARED_SHARE) * (n as f64 + done) / count as f64)
        };
        let at = (model, part);
        let is_cut = !job.models[model].parts[part].spans.is_empty();
        let uncut = is_cut.then(|| solid.clone());
        let slices = match depth {
            BodyDepth::Surface => vec![Slice::whole(job, at, solid)],
            BodyDepth::Soak | BodyDepth::Through => slices(job, at, solid),
        };
        let first = made.bodies.len();
        for slice in slices {
            let painted = Painted::of(job, at, slice, uncut.as_ref());
            if painted.divide(depth, &mut made, &of_part).is_err() {
                return Ok(None);
            }
        }
        join_regions(&mut made.bodies, first);
    }
    Ok(Some(made))
}

/// The bodies of a job that is in one colour layer by layer or part by part, so that they are just what its layers print; none of one
/// where colour goes in from the surface, which the colours of facets say better.
///
/// # Errors
/// As for [`closed_bodies`]. A stop gives none.
pub fn exact_bodies(
    job: &Job,
    go_on: &(dyn Fn(f64) -> bool + Sync),
) -> Result<Option<ClosedBodies>, Problem> {
    if !goes_through(job) {
        return Ok(None);
    }
    let made = closed_bodies(job, BodyDepth::Soak, go_on)?;
    Ok(made.filter(|made| made.are_exact(job)))
}

/// Whether any colour goes right through.
fn goes_through(job: &Job) -> bool {
    let has_spans = |m: &JobModel| m.parts.iter().any(|p| p.is_printed && !p.spans.is_empty());
    job.models.iter().any(has_spans) || job.live_regions().any(|(_, r)| r.depth.is_through())
}

impl ClosedBodies {
    /// Whether they are what [`exact_bodies`] gives, if they are as deep as colours soak.
    pub fn are_exact(&self, job: &Job) -> bool {
        goes_through(job) && !self.is_soaked && self.told.is_empty()
    }
}

/// Of the whole work, what cutting the parts out of one another counts for.
const SHARED_SHARE: f64 = 0.3;

/// The printed parts, highest rank first, each without what a higher one owns.
fn disjoint(
    job: &Job,
    told: &mut Vec<Problem>,
    go_on: &(dyn Fn(f64) -> bool + Sync),
) -> Option<Vec<((usize, usize), Solid)>> {
    let ranked = job.ranked_parts();
    let shift = job.bed_shift();
    let of_model: Vec<Vec<Solid>> = (0..job.models.len()).map(|m| job.solids(m)).collect();
    let whole: Vec<Solid> = ranked
        .iter()
        .map(|(m, p)| of_model[*m][*p].shifted(shift).facing_out())
        .collect();
    let pairs = meetings(&whole, &|n, of| {
        go_on(SHARED_SHARE * n as f64 / of.max(1) as f64)
    })?;
    // What is left of those that are cut; the others stay whole.
    let mut cut: Vec<Option<Solid>> = vec![None; whole.len()];
    for pair in &pairs {
        if matches!(pair.meeting, Meeting::Touch { .. }) {
            continue;
        }
        let [a, b] = pair.bodies;
        let (owner, other) = (a.min(b), a.max(b));
        if !go_on(SHARED_SHARE) {
            return None;
        }
        let left = cut[other].as_ref().unwrap_or(&whole[other]);
        if left.mesh.facets.is_empty() {
            continue;
        }
        match boolean(left, &whole[owner], Wanted::Without) {
            Ok(left) => cut[other] = Some(left),
            Err(_) => {
                let name = |at: usize| &job.models[ranked[at].0].parts[ranked[at].1].name;
                told.push(Problem::new(
                    "bodies-overlap",
                    format!(
                        "{} could not be cut out of {}: both hold the same space",
                        name(owner),
                        name(other)
                    ),
                    name(other).clone(),
                    "Give what they share to the first, or mend both in Intake.",
                ));
            }
        }
    }
    let left = whole
        .into_iter()
        .zip(cut)
        .map(|(whole, cut)| cut.unwrap_or(whole));
    let mut parts: Vec<_> = ranked.into_iter().zip(left).collect();
    for (at, left) in &parts {
        if left.mesh.facets.is_empty() {
            let name = &job.models[at.0].parts[at.1].name;
            told.push(Problem::new(
                "bodies-nothing-left",
                format!("Nothing is left of {name}: other parts own all of its space"),
                name.clone(),
                "Move it above them in the list of parts.",
            ));
        }
    }
    parts.retain(|(_, solid)| !solid.mesh.facets.is_empty());
    Some(parts)
}

/// The bodies of one part from a number on, those of one region as one: what is cut at a height is still one colour's.
fn join_regions(bodies: &mut Vec<ClosedBody>, first: usize) {
    let mut joined: Vec<ClosedBody> = Vec::new();
    for body in bodies.drain(first..) {
        match joined.iter_mut().find(|b| b.number == body.number) {
            Some(same) => {
                same.solid.append(&body.solid);
                same.volume_mm3 += body.volume_mm3;
                same.is_closed &= body.is_closed;
            }
            None => joined.push(body),
        }
    }
    bodies.extend(joined);
}

/// One part, or a piece of it, with the regions on its surface.
struct Painted<'a> {
    job: &'a Job,
    at: (usize, usize),
    /// Whose its inside is.
    own: u16,
    solid: Solid,
    /// The part that it was cut from, and between which heights; none for a part that is whole.
    uncut: Option<(&'a Solid, [f64; 2])>,
    /// Regions on it but its own, ascending.
    regions: Vec<u16>,
}

/// Stopped on request.
struct Stopped;

/// How deep the body of a region goes that goes right through, where that does not come out clean, mm.
const FALLBACK_MM: f64 = 0.8;

impl<'a> Painted<'a> {
    fn of(job: &'a Job, at: (usize, usize), slice: Slice, whole: Option<&'a Solid>) -> Painted<'a> {
        let Slice {
            own,
            solid,
            between,
        } = slice;
        let mut regions: Vec<u16> = solid.faces.iter().filter_map(|f| f.label).collect();
        regions.sort_unstable();
        regions.dedup();
        regions.retain(|r| *r != own);
        Painted {
            job,
            at,
            own,
            solid,
            uncut: whole.zip(between),
            regions,
        }
    }

    fn name(&self) -> &str {
        &self.job.models[self.at.0].parts[self.at.1].name
    }

    /// Adds its bodies.
    fn divide(
        mut self,
        depth: BodyDepth,
        made: &mut ClosedBodies,
        go_on: &dyn Fn(f64) -> bool,
    ) -> Result<(), Stopped> {
        if !go_on(0.0) {
            return Err(Stopped);
        }
        if self.solid.check().is_err() {
            made.told.push(Problem::new(
                "bodies-not-closed",
                format!(
                    "{} is not closed: its surface goes out as it is, in one colour",
                    self.name()
                ),
                self.name().to_string(),
                "Mend it in Intake.",
            ));
            self.put(self.own, self.solid.clone(), made);
            return Ok(());
        }
        if depth == BodyDepth::Through {
            self.push_through(made, go_on)?;
        }
        if depth == BodyDepth::Soak {
            self.cut_off(made);
        }
        if depth != BodyDepth::Surface && !self.regions.is_empty() {
            self.soak(made, go_on)?;
        }
        if !self.solid.mesh.facets.is_empty() {
            self.put(self.own, self.solid.clone(), made);
        }
        Ok(())
    }

    /// Takes every region for which that works straight through the part.
    fn push_through(
        &mut self,
        made: &mut ClosedBodies,
        go_on: &dyn Fn(f64) -> bool,
    ) -> Result<(), Stopped> {
        let mut left = Vec::new();
        for region in std::mem::take(&mut self.regions) {
            let chosen = self.faces_of(region);
            if !chosen.contains(&true) {
                continue;
            }
            if !go_on(0.5) {
                return Err(Stopped);
            }
            match straight_through(&self.solid, &chosen, &|_| go_on(0.5)) {
                Ok(halves) => {
                    self.put(region, halves.part, made);
                    self.solid = halves.rest;
                }
                Err(ThroughError::Stopped) => return Err(Stopped),
                Err(_) => left.push(region),
            }
        }
        for region in &left {
            let name = &self.job.regions[*region as usize].name;
            made.told.push(Problem::new(
                "bodies-not-through",
                format!("{name} on {} goes as deep as it soaks: straight through it does not come out clean", self.name()),
                self.name().to_string(),
                "Cut the part where the colours meet, and give its pieces whole.",
            ));
        }
        self.regions = left;
        Ok(())
    }

    /// Cuts off what regions that go right through have raised, where it stands.
    fn cut_off(&mut self, made: &mut ClosedBodies) {
        let (through, rest) = std::mem::take(&mut self.regions)
            .into_iter()
            .partition(|r: &u16| self.job.soak_mm(*r).is_infinite());
        self.regions = rest;
        let through: Vec<u16> = through;
        if !through.is_empty() {
            self.uncut = None;
        }
        for region in through {
            let chosen = self.faces_of(region);
            if !chosen.contains(&true) {
                continue;
            }
            match capped(&self.solid, &chosen) {
                Some(halves) => {
                    self.put(region, halves.part, made);
                    self.solid = halves.rest;
                }
                None => {
                    let name = &self.job.regions[region as usize].name;
                    made.told.push(Problem::new(
                        "bodies-not-through",
                        format!(
                            "{name} on {} goes {FALLBACK_MM:.1} mm deep in these bodies: right through it does not come out clean",
                            self.name()
                        ),
                        self.name().to_string(),
                        "Cut the part where the colours meet, and give its pieces whole.",
                    ));
                    self.regions.push(region);
                }
            }
        }
        self.regions.sort_unstable();
    }

    /// Makes the regions bodies as deep as they soak.
    fn soak(
        &mut self,
        made: &mut ClosedBodies,
        go_on: &dyn Fn(f64) -> bool,
    ) -> Result<(), Stopped> {
        made.is_soaked = true;
        let regions = self.regions.clone();
        let place = |label: u16| regions.binary_search(&label).ok().map(|n| n as u32);
        let choice: Vec<Option<u32>> = self
            .solid
            .faces
            .iter()
            .map(|f| f.label.and_then(place))
            .collect();
        let depths: Vec<f64> = regions
            .iter()
            .map(|r| self.job.soak_mm(*r))
            .map(|mm| if mm.is_finite() { mm } else { FALLBACK_MM })
            .collect();
        let whole = match self.uncut {
            Some((uncut, between)) => {
                let own = self.job.models[self.at.0].parts[self.at.1].own;
                let of_face = |f: &Face| {
                    let region = f.label.unwrap_or(own);
                    let is_other = !f.is_inner && region != self.own;
                    is_other.then_some(region).and_then(place)
                };
                sheets_between((uncut, &self.solid), between, &of_face, &depths, go_on)
            }
            None => Ok(None),
        };
        let divided = match whole.transpose() {
            Some(divided) => divided,
            None => sheets(&self.solid, &choice, &depths, go_on),
        };
        let divided = match divided {
            Ok(divided) => divided,
            Err(SheetError::Stopped) => return Err(Stopped),
            // What cutting straight through has left is not clean.
            Err(_) => Sheets {
                parts: vec![None; regions.len()],
                rest: self.solid.clone(),
            },
        };
        self.solid = divided.rest;
        for (region, part) in regions.iter().zip(divided.parts) {
            if let Some(part) = part {
                self.put(*region, part, made);
                continue;
            }
            let name = &self.job.regions[*region as usize].name;
            made.told.push(Problem::new(
                "bodies-region-stays",
                format!(
                    "{name} on {} cannot become a body: it stays in that of the part",
                    self.name()
                ),
                self.name().to_string(),
                "Smooth its border, or give it less soak depth.",
            ));
        }
        Ok(())
    }

    fn faces_of(&self, region: u16) -> Vec<bool> {
        let faces = self.solid.faces.iter();
        faces.map(|f| f.label == Some(region)).collect()
    }

    fn put(&self, number: u16, solid: Solid, made: &mut ClosedBodies) {
        let region = &self.job.regions[number as usize];
        made.bodies.push(ClosedBody {
            part: self.name().to_string(),
            of: self.at,
            number,
            region: region.name.clone(),
            colour: region.colour,
            volume_mm3: solid.volume_mm3(),
            is_closed: solid.check().is_ok(),
            solid,
        });
    }
}
