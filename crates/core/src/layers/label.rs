//! From nearest facets to regions: the second half of the ownership rule, run after every edit.

use super::border::{Beyond, Sheet};
use super::border_lines::BorderLines;
use super::deep::{Deep, DeepHeld};
use super::grid::TIE_MM;
use super::span::{NearCut, Span};
use super::survey::{BodyLayer, Cell, Run, Survey};
use super::thin::{Bit, Ground, Planes, TooThin, UNPRINTED, settle};
use crate::carve::{Label, Labels, shares_at};
use crate::mesh::{NO_FACET, closest_point};
use rayon::prelude::*;

/// Which region claims what. Regions are numbered from 0 here.
pub struct Claims<'a> {
    /// For each body, the labels of its mesh; no label means the body's own.
    pub labels: Vec<&'a Labels>,
    /// For each body, its own region.
    pub own: Vec<u16>,
    /// For each body, by region, whether what the region would print of it is left out; empty if nothing is.
    pub skipped: Vec<Vec<bool>>,
    /// For each body, heights whose inside is another region's than the body's own, apart from each other; empty if there are none.
    pub spans: Vec<Vec<Span>>,
    /// Soak depth of each region in mm; infinite for one that goes right through.
    pub soak_mm: Vec<f64>,
    /// Slot of each region, from 0: what one slot prints is not told apart where it is thin. Empty if each has its own.
    pub slot_of: Vec<u16>,
}

impl Claims<'_> {
    /// Slot of each region.
    pub(super) fn slots(&self) -> Vec<u16> {
        if self.slot_of.is_empty() {
            (0..self.soak_mm.len() as u16).collect()
        } else {
            self.slot_of.clone()
        }
    }

    /// Whether any region goes right through, so that layers are divided only with a [`Deep`] look.
    pub fn goes_deep(&self) -> bool {
        self.soak_mm.contains(&f64::INFINITY)
    }

    /// Whether what a region would print of a body is left out.
    pub(super) fn is_skipped(&self, body: usize, region: u16) -> bool {
        let of = self.skipped.get(body).and_then(|s| s.get(region as usize));
        of.is_some_and(|s| *s)
    }
}

/// What one region takes of one layer.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct RegionShare {
    /// Area in mm².
    pub area_mm2: f64,
    /// Of that, printed solid, in mm².
    pub solid_mm2: f64,
}

/// One layer divided among the regions.
#[derive(Debug, Clone, PartialEq)]
pub struct LayerShare {
    /// Bottom of the layer, mm.
    pub z0_mm: f64,
    /// Top of the layer, mm.
    pub z1_mm: f64,
    /// One entry per region, in region order: what prints. With what is too thin and printed by nobody, the areas sum to the
    /// layer's.
    pub regions: Vec<RegionShare>,
    /// What was too thin to print from its own slot, by region.
    pub too_thin: Vec<TooThin>,
    /// Bodies of which any is in the layer, by their numbers, ascending; without those of `thin_bodies`.
    pub bodies: Vec<u32>,
    /// Bodies in the layer of which nothing prints, because all of it is too thin.
    pub thin_bodies: Vec<u32>,
}

impl LayerShare {
    /// Area that is too thin for any slot to print, mm².
    pub fn unprinted_mm2(&self) -> f64 {
        let unprinted = self.too_thin.iter().filter(|t| t.to.is_none());
        unprinted.map(|t| t.area_mm2).sum()
    }
}

/// Divides every layer among the regions.
///
/// A cell goes to its nearest facet's region as far as that region soaks, and to the body's own region beyond; a cell
/// on the end of the soak or on a border is shared. What is then too thin for its slot goes to a neighbour. Soak depths beyond the
/// survey's reach are cut off there, but for regions that go right through.
pub fn label(survey: &Survey, claims: &Claims<'_>) -> Vec<LayerShare> {
    let look = || Deep::look(survey, claims, &|| true).expect("nobody stops it");
    let deep = claims.goes_deep().then(look);
    label_all(survey, claims, deep.as_ref())
}

/// As [`label`], with the look that regions need that go right through.
pub fn label_all(survey: &Survey, claims: &Claims<'_>, deep: Option<&Deep>) -> Vec<LayerShare> {
    let slot_of = claims.slots();
    (0..survey.layers.len())
        .into_par_iter()
        .map_init(Desk::default, |desk, layer| {
            Layer {
                survey,
                claims,
                deep,
                slot_of: &slot_of,
                layer,
            }
            .divide(desk)
        })
        .collect()
}

/// Divides anew only the layers whose cells may have their nearest facet between two heights of the print, in mm, and those
/// deep inside which something else was found: `deep` says so for each layer.
pub fn label_between(
    survey: &Survey,
    claims: &Claims<'_>,
    deep: Option<(&Deep, &[bool])>,
    (low, high): (f64, f64),
    shares: &mut [LayerShare],
) {
    let slot_of = claims.slots();
    let reach = survey.reach_mm + survey.grid.step_mm;
    shares
        .par_iter_mut()
        .enumerate()
        .for_each_init(Desk::default, |desk, (layer, share)| {
            let z = survey.heights.middle(layer);
            let is_deep = deep.is_some_and(|(_, changed)| changed.get(layer) == Some(&true));
            if is_deep || (z >= low - reach && z <= high + reach) {
                *share = Layer {
                    survey,
                    claims,
                    deep: deep.map(|(deep, _)| deep),
                    slot_of: &slot_of,
                    layer,
                }
                .divide(desk);
            }
        });
}

/// What a thread reuses from layer to layer.
#[derive(Default)]
pub(super) struct Desk {
    planes: Planes,
    pub(super) bits: Vec<Bit>,
    labels: Vec<Label>,
    lines: BorderLines,
}

/// One layer to be divided.
pub(super) struct Layer<'a> {
    pub(super) survey: &'a Survey,
    pub(super) claims: &'a Claims<'a>,
    pub(super) deep: Option<&'a Deep>,
    pub(super) slot_of: &'a [u16],
    pub(super) layer: usize,
}

/// Full cells of a body deep inside that one region has.
pub(super) struct Core<'a> {
    pub(super) body: u32,
    pub(super) region: u16,
    pub(super) runs: &'a [Run],
}

/// Who has what of a layer, besides the bits on the desk.
pub(super) struct Settled<'a> {
    /// By region, the cores alone.
    regions: Vec<RegionShare>,
    pub(super) cores: Vec<Core<'a>>,
    /// Bodies of which some core prints, ascending.
    with_core: Vec<u32>,
    too_thin: Vec<TooThin>,
}

impl Layer<'_> {
    fn divide(&self, desk: &mut Desk) -> LayerShare {
        let (z0_mm, z1_mm) = self.survey.heights.spans[self.layer];
        let Settled {
            mut regions,
            cores,
            with_core,
            too_thin,
        } = self.settle(desk);
        let Desk { bits, lines, .. } = desk;
        lines.add(
            self.survey,
            (self.slot_of, self.deep.is_some()),
            &cores,
            (bits.as_mut_slice(), &mut regions),
        );
        for bit in desk.bits.iter().filter(|b| b.region != UNPRINTED) {
            let region = &mut regions[bit.region as usize];
            region.area_mm2 += bit.area_mm2;
            region.solid_mm2 += bit.solid_mm2;
        }
        let layer = &self.survey.layers[self.layer];
        let mut bodies: Vec<u32> = layer.iter().map(|b| b.body).collect();
        // Only where something is left out can all of a body be.
        let thin_bodies = match too_thin.iter().any(|t| t.to.is_none()) {
            true => all_thin(&with_core, &desk.bits),
            false => Vec::new(),
        };
        bodies.retain(|b| thin_bodies.binary_search(b).is_err());
        LayerShare {
            z0_mm,
            z1_mm,
            regions,
            too_thin,
            bodies,
            thin_bodies,
        }
    }

    /// Puts on the desk who has how much of every cell near the surface, once what is too thin went to its neighbour.
    pub(super) fn settle(&self, desk: &mut Desk) -> Settled<'_> {
        let (survey, claims, layer) = (self.survey, self.claims, self.layer);
        let mut regions = vec![RegionShare::default(); claims.soak_mm.len()];
        let mut cores: Vec<(u16, &[Run])> = Vec::new();
        let mut with_core: Vec<u32> = Vec::new();
        let mut core_bodies: Vec<u32> = Vec::new();
        desk.bits.clear();
        desk.planes.fit(&survey.grid);
        for (at, body) in survey.layers[layer].iter().enumerate() {
            let number = body.body as usize;
            let own = claims.own_at(number, survey.heights.sample(layer));
            let deep = self.deep.map(|d| d.of(layer, at));
            self.divide_cells(body, own, deep, desk);
            let owner = |region: u16| {
                let goes_deep = claims.soak_mm[region as usize] == f64::INFINITY;
                if goes_deep { region } else { own }
            };
            match deep {
                Some(DeepHeld::Shared { core, .. }) => {
                    for (nearest, runs) in core {
                        let region = owner(*nearest);
                        if claims.is_skipped(number, region) {
                            continue;
                        }
                        let share = &mut regions[region as usize];
                        for run in runs {
                            let area = f64::from(run.length) * survey.grid.cell_mm2();
                            share.area_mm2 += area;
                            share.solid_mm2 += area * f64::from(run.solid);
                        }
                        cores.push((region, runs));
                        core_bodies.push(body.body);
                        with_core.push(body.body);
                    }
                }
                Some(DeepHeld::Whole(_)) | None => {
                    let region = match deep {
                        Some(DeepHeld::Whole(nearest)) => owner(*nearest),
                        _ => own,
                    };
                    if !claims.is_skipped(number, region) {
                        regions[region as usize].area_mm2 += body.core_mm2;
                        regions[region as usize].solid_mm2 += body.core_solid_mm2;
                        cores.push((region, &body.core[..]));
                        core_bodies.push(body.body);
                        if body.core_mm2 > 0.0 {
                            with_core.push(body.body);
                        }
                    }
                }
            }
        }
        let ground = Ground {
            grid: &survey.grid,
            line_mm: survey.settings.line_width_mm,
            slot_of: self.slot_of,
            cores,
        };
        let too_thin = settle(&ground, &mut desk.bits, &mut desk.planes);
        let bodies = core_bodies.into_iter();
        let cores =
            bodies
                .zip(ground.cores)
                .map(|(body, (region, runs))| Core { body, region, runs });
        Settled {
            regions,
            cores: cores.collect(),
            with_core,
            too_thin,
        }
    }

    /// Divides the cells of one body in one layer among the regions.
    fn divide_cells(&self, body: &BodyLayer, own: u16, deep: Option<&DeepHeld>, desk: &mut Desk) {
        let (survey, claims, layer) = (self.survey, self.claims, self.layer);
        let number = body.body as usize;
        let labels = claims.labels[number];
        let feet = self.deep.and_then(|d| d.feet(number));
        let cut = NearCut::of(survey, claims, feet, (number, layer), survey.grid.step_mm);
        let of_piece = cut.as_ref().map(|cut| survey.cells_of_piece(cut, body));
        let cells = of_piece.as_deref().unwrap_or(&body.cells);
        let mut deep_labels = match deep {
            Some(DeepHeld::Shared { cells, .. }) => cells.iter(),
            _ => [].iter(),
        };
        let deep_region = match deep {
            Some(DeepHeld::Whole(nearest)) => *nearest,
            _ => own,
        };
        // Surface without a label is the body's own, also where its inside is another region's.
        let of_surface =
            |label: Label| Some(label.unwrap_or(claims.own[number])).filter(|l| *l != own);
        desk.labels.clear();
        desk.labels.extend(cells.iter().map(|cell| {
            if cell.facet == NO_FACET {
                let nearest = deep_labels.next().copied().unwrap_or(deep_region);
                return Some(nearest).filter(|n| *n != own);
            }
            let label = labels.whole(cell.facet).unwrap_or_else(|| {
                label_on_divided(survey, labels, number, layer, cell, cut.as_ref())
            });
            of_surface(label)
        }));
        let index = &mut desk.planes.index;
        let has_border = desk.labels.windows(2).any(|w| w[0] != w[1]);
        let borders = if has_border {
            for (i, cell) in (1u32..).zip(cells) {
                index[cell.at as usize] = i;
            }
            let sheet = Sheet {
                survey,
                body: number,
                layer,
                cells,
                labels,
                cut: cut.as_ref(),
                label_of: &desk.labels,
                own,
                own_surface: claims.own[number],
            };
            let borders = sheet.beyond(index);
            cells.iter().for_each(|c| index[c.at as usize] = 0);
            borders
        } else {
            Vec::new()
        };
        let cell_mm2 = survey.grid.cell_mm2();
        let mut borders = borders.chunk_by(|a, b| a.cell == b.cell).peekable();
        // Of a share of a cell, what its region soaks and what is left to the body's own.
        let mut put = |cell: &Cell, label: Label, share: f64| {
            let distance_mm = f64::from(cell.distance_mm);
            let soaked = label.map_or(0.0, |region| {
                let soak_mm =
                    counted_soak(claims.soak_mm[region as usize], survey.settings.layer_mm);
                soaked(soak_mm, distance_mm, f64::from(cell.spread_mm))
            });
            for (region, share) in [(label, share * soaked), (None, share * (1.0 - soaked))] {
                let region = region.unwrap_or(own);
                if share > 0.0 && !claims.is_skipped(number, region) {
                    desk.bits.push(Bit {
                        at: cell.at,
                        body: body.body,
                        region,
                        area_mm2: share * f64::from(cell.area_mm2),
                        solid_mm2: share * f64::from(cell.solid_mm2),
                    });
                }
            }
        };
        for (i, cell) in (0u32..).zip(cells) {
            let mut left = 1.0;
            if let Some(across) = borders.next_if(|b| b[0].cell == i) {
                // Of rows and columns those that take more: a slanting border is seen from both.
                let sum = |b: &[Beyond]| b.iter().map(|b| b.share).sum::<f64>();
                let split = across.partition_point(|b| !b.is_upright);
                let (level, upright) = across.split_at(split);
                let taken = if sum(level) >= sum(upright) {
                    level
                } else {
                    upright
                };
                // At the outline a cell is narrower than its neighbours.
                let whole = cell_mm2 / f64::from(cell.area_mm2).max(1e-12);
                for border in taken {
                    let share = (border.share * whole).min(left);
                    let label = desk.labels[border.other as usize];
                    put(cell, label, share);
                    left -= share;
                }
            }
            if left > 0.0 {
                put(cell, desk.labels[i as usize], left);
            }
        }
    }
}

/// The bodies of a layer of which all that they would print is too thin for anybody to print, ascending. n log n in the bits.
fn all_thin(with_core: &[u32], bits: &[Bit]) -> Vec<u32> {
    let of_bits = |is_counted: fn(&Bit) -> bool| -> Vec<u32> {
        let mut bodies: Vec<u32> = bits
            .iter()
            .filter(|b| is_counted(b))
            .map(|b| b.body)
            .collect();
        bodies.sort_unstable();
        bodies.dedup();
        bodies
    };
    let printed = of_bits(|b| b.region != UNPRINTED);
    let mut thin = of_bits(|b| b.region == UNPRINTED);
    thin.retain(|t| printed.binary_search(t).is_err() && with_core.binary_search(t).is_err());
    thin
}

/// The label at the place nearest to a cell's middle, on a facet with several.
pub(super) fn label_on_divided(
    survey: &Survey,
    labels: &Labels,
    body: usize,
    layer: usize,
    cell: &Cell,
    cut: Option<&NearCut<'_>>,
) -> Label {
    let across = survey.grid.cells[0];
    let [x, y] = survey
        .grid
        .centre(cell.at as usize % across, cell.at as usize / across);
    label_near(
        survey,
        labels,
        body,
        cell.facet,
        [x, y, survey.heights.sample(layer)],
        cut,
    )
}

/// The label at the place on a facet nearest to a point in the print's frame.
pub(super) fn label_near(
    survey: &Survey,
    labels: &Labels,
    body: usize,
    facet: u32,
    p: [f64; 3],
    cut: Option<&NearCut<'_>>,
) -> Label {
    let b = &survey.bodies[body];
    let p = [0, 1, 2].map(|i| p[i] - b.shift[i]);
    let corners = b.open.mesh.corners(facet);
    let nearest = match cut {
        Some(cut) => cut.closest(p, &corners),
        None => closest_point(p, &corners),
    };
    labels.at(facet, shares_at(nearest, &corners))
}

/// A soak depth as it is counted: half a layer is rounded up, as thicknesses are.
pub(super) fn counted_soak(soak_mm: f64, layer_mm: f64) -> f64 {
    let is_half = ((soak_mm / layer_mm).fract() - 0.5).abs() * layer_mm < TIE_MM;
    if is_half {
        soak_mm + 2.0 * TIE_MM
    } else {
        soak_mm
    }
}

/// Share of a cell that lies within the soak depth, from the distance at its middle and the spread across it.
pub(super) fn soaked(soak_mm: f64, distance_mm: f64, spread_mm: f64) -> f64 {
    if soak_mm == f64::INFINITY {
        return 1.0;
    }
    let left = soak_mm - distance_mm;
    // Under a flat top the distance is the same all over the cell.
    if spread_mm <= TIE_MM {
        return f64::from(u8::from(left >= 0.0));
    }
    (0.5 + left / spread_mm).clamp(0.0, 1.0)
}
