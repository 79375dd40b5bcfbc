//! Where purge goes: into infill that nobody sees, into the tower, into a bin, or out by hand.

use super::print::Print;
use super::types::PurgeSplit;
use std::collections::HashMap;

/// Shares out purge, layer by layer.
pub(super) struct Places<'a> {
    print: &'a Print<'a>,
    /// Whether all of it is pressed out by hand.
    is_by_hand: bool,
    /// Whether a slot, as walls and skins, hides the colour of another behind it.
    hides: HashMap<(u8, u8), bool>,
    layer: usize,
    /// Infill of the layer that has not been printed of purge, mm³; without what is marked to take it.
    infill_mm3: f64,
    /// What is marked to take purge and has not been printed of it, mm³.
    marked_mm3: f64,
}

impl<'a> Places<'a> {
    /// Between passes there is no layer that could take any purge: it is pressed out by hand, as much as the rinse asks for.
    pub(super) fn new(print: &'a Print<'a>, is_by_passes: bool) -> Places<'a> {
        Places {
            print,
            is_by_hand: is_by_passes || print.task.rules.places.by_hand_mm.is_some(),
            hides: HashMap::new(),
            layer: usize::MAX,
            infill_mm3: 0.0,
            marked_mm3: 0.0,
        }
    }

    /// Where the purge of a swap in a layer goes. Swaps are asked for in printing order.
    ///
    /// What is marked to take purge comes first, whatever its colour. Other infill takes purge only in layers where every slot that prints hides the old colour behind its walls and skins: a pale
    /// thin wall would show it. What it can take is the infill of the layer, all pieces together, which is then not printed
    /// of its own colour; walls and skins never take any.
    pub(super) fn split(&mut self, layer: usize, from: u8, purge_mm3: f64) -> PurgeSplit {
        let places = self.print.task.rules.places;
        if self.is_by_hand {
            return PurgeSplit {
                hand_mm3: purge_mm3,
                ..PurgeSplit::default()
            };
        }
        if layer != self.layer {
            self.layer = layer;
            let infill = self.print.slots[layer].iter();
            let infill = infill.map(|share| self.print.extruded(layer, share).1);
            let marked = self.print.takes_mm3(layer);
            self.marked_mm3 = marked.iter().map(|m| m[0]).sum();
            self.infill_mm3 =
                (infill.sum::<f64>() - marked.iter().map(|m| m[1]).sum::<f64>()).max(0.0);
        }
        let mut split = PurgeSplit {
            marked_mm3: purge_mm3.min(self.marked_mm3),
            ..PurgeSplit::default()
        };
        self.marked_mm3 -= split.marked_mm3;
        split.infill_mm3 = split.marked_mm3;
        if places.into_infill && self.is_hidden(layer, from) {
            let more = (purge_mm3 - split.marked_mm3).min(self.infill_mm3);
            self.infill_mm3 -= more;
            split.infill_mm3 += more;
        }
        let rest = purge_mm3 - split.infill_mm3;
        split.tower_mm3 = places.tower_share * rest;
        split.bin_mm3 = rest - split.tower_mm3;
        split
    }

    /// Whether all that prints in a layer hides a colour behind it.
    fn is_hidden(&mut self, layer: usize, colour_of: u8) -> bool {
        let print = self.print;
        let old = print.filaments[colour_of as usize].pigment.colour;
        print.used[layer].iter().all(|slot| {
            *self.hides.entry((*slot, colour_of)).or_insert_with(|| {
                *slot == colour_of
                    || print.filaments[*slot as usize].hides(old, &print.task.printer, 1.0)
            })
        })
    }
}
