//! A drawing laid flat: every point has one colour, or none.

use super::MOST_COLOURS;
use crate::colour::{Colour, difference};
use crate::shapes::Area;

/// A drawing of which every point has one colour or none. Areas share borders and nothing else.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Flat {
    /// Width and height of the page, mm.
    pub size_mm: [f64; 2],
    /// The colours, those of the largest area first.
    pub inks: Vec<Ink>,
    /// What a maker should know of how it was read.
    pub notes: Vec<Note>,
}

/// One colour of a drawing.
#[derive(Debug, Clone, PartialEq)]
pub struct Ink {
    /// What it is called.
    pub name: String,
    /// The colour.
    pub colour: Colour,
    /// Where it is, mm.
    pub area: Area,
}

/// What was left out or taken otherwise than it was meant.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Note {
    /// In a plain sentence.
    pub message: String,
    /// What can be done.
    pub mend: String,
}

impl Note {
    pub(super) fn new(message: impl Into<String>, mend: &str) -> Note {
        Note {
            message: message.into(),
            mend: mend.into(),
        }
    }
}

impl Flat {
    /// All that is drawn.
    pub fn section(&self) -> Area {
        Area::union(self.inks.iter().map(|i| &i.area))
    }

    /// Puts colours together until so many are left: always the two between which the area that changes, times the difference seen, is
    /// least. Names and colours are those of the larger one.
    ///
    /// # Cost
    /// Cubic in the number of colours, which pictures bound beforehand.
    pub fn reduced(mut self, colours: usize) -> Flat {
        let wanted = colours.clamp(1, MOST_COLOURS);
        let mut mm2: Vec<f64> = self.inks.iter().map(|i| i.area.mm2()).collect();
        while self.inks.len() > wanted {
            let mut best = (f64::INFINITY, 0, 0);
            for a in 0..self.inks.len() {
                for b in a + 1..self.inks.len() {
                    let (x, y) = (self.inks[a].colour, self.inks[b].colour);
                    let loss = mm2[a].min(mm2[b]) * difference(x.linear(), y.linear());
                    if loss < best.0 {
                        best = (loss, a, b);
                    }
                }
            }
            let (_, a, b) = best;
            let (keep, gone) = if mm2[a] >= mm2[b] { (a, b) } else { (b, a) };
            self.inks[keep].area = self.inks[keep].area.or(&self.inks[gone].area);
            mm2[keep] += mm2[gone];
            self.inks.remove(gone);
            mm2.remove(gone);
        }
        self.sorted()
    }

    /// With every colour that of a palette which is seen nearest to it; those that come to be the same are one.
    pub fn brought_to(mut self, palette: &[Colour]) -> Flat {
        let far = |a: Colour, b: Colour| difference(a.linear(), b.linear());
        let mut inks: Vec<Ink> = Vec::new();
        for ink in self.inks.drain(..) {
            let nearest = palette
                .iter()
                .min_by(|a, b| far(**a, ink.colour).total_cmp(&far(**b, ink.colour)));
            let colour = nearest.copied().unwrap_or(ink.colour);
            match inks.iter_mut().find(|i| i.colour == colour) {
                Some(known) => known.area = known.area.or(&ink.area),
                None => inks.push(Ink { colour, ..ink }),
            }
        }
        self.inks = inks;
        self.sorted()
    }

    /// The largest first; of equal ones as the colours sort.
    pub(super) fn sorted(mut self) -> Flat {
        let mut with_size: Vec<(f64, Ink)> =
            self.inks.drain(..).map(|i| (i.area.mm2(), i)).collect();
        with_size.sort_by(|(a, x), (b, y)| b.total_cmp(a).then(x.colour.cmp(&y.colour)));
        self.inks = with_size.into_iter().map(|(_, i)| i).collect();
        self
    }
}
