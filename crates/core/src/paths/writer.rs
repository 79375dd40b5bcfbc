//! Lays the beads of a layer: in a good order, slowed down where a layer is done too soon, the purge where the plan has it.

use super::bead::{Bead, way};
use super::edges::{prime, skirt};
use super::layer::SlotBeads;
use super::nozzle::Nozzle;
use super::pool::Pool;
use super::route::{Seams, in_order, islands_in_order};
use super::script::{Asked, SlotWords};
use super::steps::Step;
use super::tower::TowerLine;
use super::ways::Ways;
use crate::machine::{CLEAR_MM, filled};
use crate::plan::Swap;
use crate::rules::Takes;
use crate::shapes::Area;

/// Places at which a maker's own lines are put in.
#[derive(Debug, Clone, Copy)]
pub(super) enum Passage {
    Start,
    Layer,
    Swap,
    End,
}

/// Islands of less are small, on the bed, mm² (common practice, no source).
const SMALL_MM2: f64 = 20.0;

pub(super) struct Writer<'a> {
    pub(super) asked: &'a Asked<'a>,
    pub(super) nozzle: Nozzle<'a>,
    pieces: Vec<[f64; 2]>,
    /// How high what earlier files laid stands, mm.
    pub(super) standing: f64,
    /// Slots that are laid in the layer.
    laid: Vec<u8>,
    /// Slot in each place of a machine that holds fewer than there are; empty where every slot has its own.
    pub(super) places: Vec<u8>,
}

impl<'a> Writer<'a> {
    pub(super) fn new(asked: &'a Asked<'a>, standing: f64) -> Writer<'a> {
        Writer {
            asked,
            nozzle: Nozzle::new(asked.printer(), asked.shift()),
            pieces: asked.pieces(),
            standing,
            laid: Vec::new(),
            places: asked.plan.start.clone(),
        }
    }

    pub(super) fn words(&self, slot: u8) -> &'a SlotWords {
        &self.asked.slots[slot as usize - 1]
    }

    /// Begins a layer of which some slots are laid; before the first of all, what goes around it.
    pub(super) fn layer(&mut self, index: usize, slots: &[u8]) {
        let layer = &self.asked.layers[index];
        let is_first = self.nozzle.layer.0[1] == 0.0;
        self.nozzle.layer = (layer.span_mm, index == 0);
        self.nozzle.say(Step::Layer {
            index,
            span_mm: layer.span_mm,
        });
        let printing = &self.asked.printer().printing;
        if index + 1 >= printing.fan_from_layer as usize {
            self.nozzle.fan_due = printing.fan;
        }
        self.laid.clear();
        self.nozzle.is_beside_laid = false;
        self.nozzle.own = Ways::default();
        self.nozzle.all = match printing.stays_inside {
            true => Ways::of(&layer.inside, &self.pieces),
            false => Ways::default(),
        };
        self.passage(Passage::Layer, index, slots.first().copied(), None);
        self.slow_down(index, slots);
        if is_first && self.standing == 0.0 {
            self.around(index);
        }
    }

    /// Priming line, skirt and brim.
    fn around(&mut self, index: usize) {
        let ground = &self.asked.layers[index].section;
        let pieces: Vec<Area> = self.pieces.iter().map(|by| ground.moved(*by)).collect();
        let mut all = Area::union(&pieces);
        let stilts = &self.asked.layers[index].propped;
        for by in &self.pieces {
            all = all.or(&stilts.moved(*by));
        }
        if let Some((low, high)) = self.asked.tower_box() {
            all = all.or(&Area::rectangle(low, high));
        }
        let (printer, shift) = (self.asked.printer(), self.nozzle.shift);
        let is_on_bed = |b: &Bead| {
            let places = b.line.iter().map(|j| self.nozzle.on_bed(j.at));
            places
                .into_iter()
                .all(|p| (0..2).all(|i| p[i] >= 1.0 && p[i] <= printer.bed_mm[i] - 1.0))
        };
        // Around all that will ever be above it, so that nothing hangs over it; without room for that around what stands on the bed,
        // and without room for any there is none.
        let boxes = [self.footprint(&all), all.bounds()].into_iter().flatten();
        let skirt = boxes
            .map(|b| skirt(b, printer))
            .find(|skirt| skirt.iter().all(is_on_bed))
            .unwrap_or_default();
        let brim = self.moved(&self.asked.layers[index].brim);
        let mut low = [f64::INFINITY; 2];
        let mut high = [f64::NEG_INFINITY; 2];
        let outlines = all.rings_mm();
        let places = skirt
            .iter()
            .chain(&brim)
            .flat_map(|b| b.line.iter().map(|j| j.at));
        for p in places.chain(outlines.into_iter().flatten()) {
            for i in 0..2 {
                low[i] = low[i].min(p[i] + shift[i]);
                high[i] = high[i].max(p[i] + shift[i]);
            }
        }
        if let Some(bead) = prime(printer, low, high) {
            self.nozzle.lay(&bead.moved(shift.map(|c| -c)), None);
        }
        let (mut at, seams) = (self.here(), self.seams(index));
        for beads in [skirt, brim] {
            for bead in in_order(beads, seams, &mut at) {
                self.nozzle.lay(&bead, None);
            }
        }
    }

    /// Box of all layers of all pieces, and of what else stands on the bed.
    fn footprint(&self, ground: &Area) -> Option<([f64; 2], [f64; 2])> {
        let mut found = ground.bounds()?;
        let boxes = self.asked.layers.iter().filter_map(|l| l.section.bounds());
        for (low, high) in boxes {
            for by in &self.pieces {
                for i in 0..2 {
                    found.0[i] = found.0[i].min(low[i] + by[i]);
                    found.1[i] = found.1[i].max(high[i] + by[i]);
                }
            }
        }
        Some(found)
    }

    fn seams(&self, layer: usize) -> Seams {
        Seams {
            how: self.asked.printer().printing.seam,
            layer,
        }
    }

    /// Where the nozzle is, in the print's frame.
    fn here(&self) -> [f64; 2] {
        let at = self.nozzle.at.unwrap_or([0.0; 2]);
        [0, 1].map(|i| at[i] - self.nozzle.shift[i])
    }

    /// Slows a layer down that would be done too soon for what is below to set.
    fn slow_down(&mut self, index: usize, slots: &[u8]) {
        let layer = &self.asked.layers[index];
        let height = layer.span_mm[1] - layer.span_mm[0];
        self.nozzle.slowed = 1.0;
        let laid = layer.slots.iter();
        let laid = laid.filter(|s| slots.contains(&self.printed_by(index, s)));
        let beads = laid.flat_map(|s| {
            let islands = s.islands.iter().flatten();
            islands.chain(&s.sparse)
        });
        let beads = beads.chain(&layer.supports);
        let seconds: f64 = beads
            .map(|b| {
                let width = b.line.first().map_or(0.4, |j| j.width);
                b.length_mm() / self.nozzle.speed(b.kind, width * height)
            })
            .sum();
        let is_counted = |s: &&Swap| s.layer == index && !self.asked.plan.is_by_passes;
        let swaps = self.asked.plan.swaps.iter().filter(is_counted);
        let seconds = seconds * self.pieces.len() as f64;
        let swaps_s: f64 = swaps.map(|s| s.seconds).sum();
        // What swaps take sets as well.
        let least = self.asked.printer().printing.least_layer_s - swaps_s;
        if seconds > 0.0 && least > seconds {
            self.nozzle.slowed = (seconds / least).max(0.1);
        }
    }

    /// Beads of one piece, at the place of every piece.
    pub(super) fn moved(&self, beads: &[Bead]) -> Vec<Bead> {
        let pieces = self.pieces.iter();
        pieces
            .flat_map(|by| beads.iter().map(move |b| b.moved(*by)))
            .collect()
    }

    /// Lays beads in a good order, above what stands if earlier files have laid anything.
    pub(super) fn lay_all(&mut self, beads: Vec<Bead>, index: usize) {
        let mut at = self.here();
        let seams = self.seams(index);
        for bead in in_order(beads, seams, &mut at) {
            self.lay(&bead);
        }
    }

    fn lay(&mut self, bead: &Bead) {
        let ceiling = (self.standing > 0.0).then(|| {
            let top = self.nozzle.layer.0[1];
            self.standing.max(top) + CLEAR_MM
        });
        // Next to where it is there is nothing to cross.
        let start = bead.line.first().map(|j| self.nozzle.on_bed(j.at));
        let near = start
            .zip(self.nozzle.at)
            .is_some_and(|(a, b)| way(a, b) < 1.05 * self.asked.printer().line_width_mm);
        self.nozzle.lay(bead, ceiling.filter(|_| !near));
    }

    /// Lays what a slot has in a layer.
    pub(super) fn slot(&mut self, index: usize, slot: u8, pool: &mut Pool) {
        let layer = &self.asked.layers[index];
        let own: Vec<&SlotBeads> = layer
            .slots
            .iter()
            .filter(|s| self.printed_by(index, s) == slot)
            .collect();
        if own.is_empty() {
            return;
        }
        let is_whole = |s: &&&SlotBeads| !pool.is_broken_up || s.takes != Some(Takes::All);
        let of_piece = |by: &[f64; 2]| -> Vec<Vec<Bead>> {
            let moved = |island: &Vec<Bead>| island.iter().map(|b| b.moved(*by)).collect();
            let whole = own.iter().filter(is_whole);
            whole.flat_map(|s| s.islands.iter().map(moved)).collect()
        };
        let islands = self.pieces.iter().flat_map(of_piece).collect();
        if self.laid.is_empty() {
            // Before anything else, so that the walls above find hold.
            self.lay_all(self.moved(&layer.supports), index);
        }
        let mut at = self.here();
        let seams = self.seams(index);
        self.nozzle.is_beside_laid = self.laid.iter().any(|s| *s != slot);
        self.nozzle.own = match self.nozzle.is_beside_laid {
            true => match own.as_slice() {
                [one] => Ways::of(&one.inside, &self.pieces),
                several => {
                    let inside = Area::union(several.iter().map(|s| &s.inside));
                    Ways::of(&inside, &self.pieces)
                }
            },
            // All that is laid in the layer so far is of this colour.
            false => Ways::default(),
        };
        for island in islands_in_order(islands, seams, &mut at) {
            let ground_mm2: f64 = island.iter().map(Bead::ground_mm2).sum();
            self.nozzle.most_mm_s = match ground_mm2 < SMALL_MM2 {
                true => self.asked.printer().printing.island_mm_s,
                false => f64::INFINITY,
            };
            for bead in island {
                self.lay(&bead);
            }
        }
        self.nozzle.most_mm_s = f64::INFINITY;
        self.lay_all(pool.rest(slot), index);
        for own in own {
            self.lay_all(self.moved(&own.smoothing), index);
        }
        self.laid.push(slot);
    }

    /// Puts in lines of the maker's own, if there are any for this place.
    pub(super) fn passage(
        &mut self,
        which: Passage,
        index: usize,
        slot: Option<u8>,
        from: Option<u8>,
    ) {
        let passages = &self.asked.printer().printing.passages;
        let text = match which {
            Passage::Start => &passages.start,
            Passage::Layer => &passages.layer,
            Passage::Swap => &passages.swap,
            Passage::End => &passages.end,
        };
        if text.trim().is_empty() {
            return;
        }
        let slot = slot.unwrap_or(1);
        let top = self.asked.plan.layers.get(index).map_or(0.0, |l| l.z1_mm);
        let value = |of: &str| match of {
            "layer" => (index + 1).to_string(),
            "layers" => self.asked.plan.layers.len().to_string(),
            "z" => crate::figure(top),
            "slot" => slot.to_string(),
            "tool" => (slot - 1).to_string(),
            "spool" => self.words(slot).name.clone(),
            "nozzle_c" => format!("{:.0}", self.words(slot).nozzle_c),
            "bed_c" => format!("{:.0}", self.asked.bed_c()),
            "from_slot" => from.unwrap_or(slot).to_string(),
            _ => String::new(),
        };
        let text = filled(text, &value);
        self.nozzle.say_own(text);
    }

    /// The tower's line on a layer, for all that goes into it there.
    pub(super) fn tower_line(&self, index: usize, swaps: &[&Swap]) -> Option<TowerLine> {
        let tower = self.asked.plan.tower?;
        let layer = &self.asked.plan.layers[index];
        let purge: f64 = swaps.iter().map(|s| s.split.tower_mm3).sum();
        let mm3 = layer.tower_mm3 + purge;
        let height = layer.z1_mm - layer.z0_mm;
        let line_mm = self.asked.printer().line_width_mm;
        (mm3 > 0.0).then(|| {
            TowerLine::of(
                (tower.at.unwrap_or_default(), tower.side_mm),
                index,
                height,
                mm3,
                line_mm,
            )
        })
    }
}
