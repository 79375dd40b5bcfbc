//! From a flat drawing to closed bodies, one for each colour.

use super::flat::Flat;
use super::flatwork::{Fate, Flatwork, Side};
use super::prism::prism;
use super::thin::thickened;
use crate::Problem;
use crate::colour::Colour;
use crate::formats::{ColouredObject, Package, RegionColour, SlotMaterial, write_threemf};
use crate::mesh::Mesh;
use crate::shapes::Area;
use crate::solids::Solid;

/// A body of one colour.
#[derive(Debug, Clone)]
pub struct Body {
    /// What it is called.
    pub name: String,
    /// Its colour.
    pub colour: Colour,
    /// The surface, mm; on the bed at z 0.
    pub mesh: Mesh,
    /// What it covers, as it lies on the bed.
    pub area: Area,
    /// The same, mm².
    pub area_mm2: f64,
    /// Bottom and top, mm.
    pub span_mm: [f64; 2],
}

impl Body {
    /// What it holds, mm³.
    pub fn volume_mm3(&self) -> f64 {
        Solid::plain(self.mesh.clone()).volume_mm3()
    }

    /// Whether its surface is closed.
    pub fn is_closed(&self) -> bool {
        Solid::plain(self.mesh.clone()).check().is_ok()
    }
}

/// What covers nothing that could be printed, mm².
pub(super) const NOTHING_MM2: f64 = 1e-3;

/// Half the width of what is left between areas by rounding, mm.
const SLIVER_MM: f64 = 0.005;

/// Corners of a circle to a turn.
const ROUND: usize = 96;

fn circle(at: [f64; 2], radius_mm: f64) -> Area {
    let corner = |k: usize| {
        let a = std::f64::consts::TAU * k as f64 / ROUND as f64;
        [at[0] + radius_mm * a.cos(), at[1] + radius_mm * a.sin()]
    };
    Area::of(&[(0..ROUND).map(corner).collect()])
}

impl Flatwork {
    /// The bodies of a drawing: of each colour one, in the order of the colours, then the plate, or two where it fills up what is thinner.
    /// They are closed and share faces, but no space.
    ///
    /// # Errors
    /// What [`Flatwork::check`] says; `flatwork-nothing` where nothing is left.
    ///
    /// # Cost
    /// n log n in corners.
    pub fn bodies(&self, flat: &Flat) -> Result<Vec<Body>, Problem> {
        self.check(flat.inks.len())?;
        let areas = self.areas(flat);
        let colour = |ink: usize| self.inks[ink].colour.unwrap_or(flat.inks[ink].colour);
        let name = |ink: usize| {
            let own = self.inks[ink].name.clone();
            own.unwrap_or_else(|| flat.inks[ink].name.clone())
        };
        let solid: Vec<usize> = (0..areas.len())
            .filter(|i| areas[*i].mm2() > NOTHING_MM2)
            .collect();
        let thickness = |ink: usize| self.inks[ink].thickness_mm;
        let most = solid.iter().map(|i| thickness(*i)).fold(0.0, f64::max);
        let base_mm = self.base.map_or(0.0, |b| b.thickness_mm);
        let mut bodies = Vec::new();
        let mut add = |name: String, colour: Colour, area: &Area, span: [f64; 2]| {
            let (mesh, area) = prism(area, span);
            if area.mm2() > NOTHING_MM2 {
                bodies.push(Body {
                    name,
                    colour,
                    mesh,
                    area_mm2: area.mm2(),
                    area,
                    span_mm: span,
                });
            }
        };
        for ink in &solid {
            let span = match self.side {
                Side::Upper => [base_mm, base_mm + thickness(*ink)],
                Side::Bed => [0.0, thickness(*ink)],
            };
            add(name(*ink), colour(*ink), &areas[*ink], span);
        }
        if let Some(base) = self.base {
            let plate = self.plate(flat, base.margin_mm);
            let (tint, called) = (colour(base.ink), "Base plate");
            match self.side {
                Side::Upper => add(called.into(), tint, &plate, [0.0, base_mm]),
                Side::Bed => {
                    add(called.into(), tint, &plate, [most, most + base_mm]);
                    // Beside and above what is thinner, and where nothing is, down to the bed: what lies on it needs something below.
                    let mut rest = plate.clone();
                    for ink in &solid {
                        let (under, beside) = rest.split(&areas[*ink]);
                        rest = beside;
                        if most - thickness(*ink) > 1e-6 {
                            let filled = format!("Base plate over {}", name(*ink));
                            add(filled, tint, &under, [thickness(*ink), most]);
                        }
                    }
                    // What rounding leaves between two areas is no body.
                    let islands = rest.islands().into_iter();
                    let islands: Vec<Area> = islands
                        .filter(|i| !i.opened(SLIVER_MM).is_empty())
                        .collect();
                    let beside = Area::union(&islands);
                    add("Base plate beside".into(), tint, &beside, [0.0, most]);
                }
            }
        }
        match bodies.is_empty() {
            true => Err(Problem::new(
                "flatwork-nothing",
                "Nothing of this drawing is left to be a body",
                "",
                "Leave fewer colours out, or make the holes smaller.",
            )),
            false => Ok(bodies),
        }
    }

    /// What each colour covers once colours are joined and left out, holes are cut and things thickened; as it is to lie on the bed.
    fn areas(&self, drawn: &Flat) -> Vec<Area> {
        let mut flat = drawn.clone();
        for own in &mut flat.inks {
            own.area = Area::default();
        }
        for (ink, own) in drawn.inks.iter().enumerate() {
            if let Some(body) = self.body_of(ink) {
                let area = &mut flat.inks[body].area;
                *area = area.or(&own.area);
            }
        }
        if let Some(least) = self.thicken_mm {
            flat = thickened(flat, least);
        }
        let mut areas: Vec<Area> = flat.inks.into_iter().map(|i| i.area).collect();
        let section = Area::union(&areas);
        if let Some(outline) = self.outline {
            let rim = section.offset(outline.width_mm).without_holes();
            let rim = rim.minus(&section).minus(&self.holes(drawn));
            areas[outline.ink] = areas[outline.ink].or(&rim);
        }
        if let Some(eyelet) = self.eyelet {
            if eyelet.ring_mm > 0.0 {
                let ring = circle(eyelet.at, 0.5 * eyelet.hole_mm + eyelet.ring_mm);
                let ring = ring.minus(&Area::union(&areas));
                areas[eyelet.ink] = areas[eyelet.ink].or(&ring);
            }
            let hole = circle(eyelet.at, 0.5 * eyelet.hole_mm);
            for area in &mut areas {
                *area = area.minus(&hole);
            }
        }
        if self.side == Side::Bed {
            let width = drawn.size_mm[0];
            areas = areas.into_iter().map(|a| a.mirrored(width)).collect();
        }
        areas
    }

    /// What is cut all the way through because of its colour.
    fn holes(&self, flat: &Flat) -> Area {
        let holes = flat.inks.iter().zip(&self.inks);
        Area::union(
            holes
                .filter(|(_, c)| c.fate == Fate::Hole)
                .map(|(i, _)| &i.area),
        )
    }

    /// The plate: below everything that is drawn and a margin around it, without the holes.
    fn plate(&self, flat: &Flat, margin_mm: f64) -> Area {
        let drawn = flat.inks.iter().map(|i| &i.area);
        let mut all = Area::union(drawn);
        if let Some(outline) = self.outline {
            all = all.offset(outline.width_mm).without_holes();
        }
        let mut plate = all.offset(margin_mm).without_holes();
        if let Some(eyelet) = self.eyelet {
            if eyelet.ring_mm > 0.0 {
                plate = plate.or(&circle(eyelet.at, 0.5 * eyelet.hole_mm + eyelet.ring_mm));
            }
            plate = plate.minus(&circle(eyelet.at, 0.5 * eyelet.hole_mm));
        }
        plate = plate.minus(&self.holes(flat));
        match self.side {
            Side::Upper => plate,
            Side::Bed => plate.mirrored(flat.size_mm[0]),
        }
    }
}

/// Bodies as a 3MF package: one object each, named, with a base material and a colour for each different colour.
///
/// # Errors
/// `export-failed` if the writer refuses.
pub fn bodies_threemf(title: &str, bodies: &[Body]) -> Result<Vec<u8>, Problem> {
    let mut colours: Vec<(Colour, &str)> = Vec::new();
    for body in bodies {
        if !colours.iter().any(|(c, _)| *c == body.colour) {
            colours.push((body.colour, &body.name));
        }
    }
    let number = |colour: Colour| colours.iter().position(|(c, _)| *c == colour).unwrap_or(0);
    let objects = bodies.iter().map(|body| {
        let of = number(body.colour);
        let facets = 0..body.mesh.facets.len() as u32;
        ColouredObject {
            name: &body.name,
            mesh: &body.mesh,
            facets: facets.map(|f| (f, of)).collect(),
            material: of,
            shift: [0.0; 3],
        }
    });
    write_threemf(&Package {
        title,
        description: String::new(),
        materials: colours
            .iter()
            .map(|(colour, name)| SlotMaterial {
                name: (*name).to_string(),
                colour: *colour,
                opacity: 1.0,
            })
            .collect(),
        regions: colours
            .iter()
            .map(|(colour, name)| RegionColour {
                name: (*name).to_string(),
                colour: *colour,
                opacity: 1.0,
            })
            .collect(),
        names_colours: true,
        objects: objects.collect(),
        copies: vec![[0.0; 2]],
    })
}
