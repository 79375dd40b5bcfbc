//! From a stacked picture to closed bodies.

use super::{Stacked, Stacking};
use crate::drawing::bodies::{Body, NOTHING_MM2};
use crate::drawing::prism::prism;
use crate::shapes::Area;

impl Stacked {
    /// Bodies from the bed up, each of one spool between two heights: closed, sharing faces but no space.
    ///
    /// # Cost
    /// n log n in corners, for every height at which places end.
    pub fn bodies(&self, stacking: &Stacking) -> Vec<Body> {
        let mut above: Vec<Area> = Vec::with_capacity(self.areas.len());
        let mut covered = Area::default();
        for area in self.areas.iter().rev() {
            if !area.is_empty() {
                covered = covered.or(area);
            }
            above.push(covered.clone());
        }
        above.reverse();
        let mut bodies: Vec<Body> = Vec::new();
        let mut from = 0;
        for (n, tone) in self.stack.tones.iter().enumerate() {
            let next = self.stack.tones.get(n + 1);
            let goes_on = next.is_some_and(|t| t.spool == tone.spool);
            // Where nothing ends here the body goes on upward.
            if goes_on && self.areas[n].mm2() < NOTHING_MM2 {
                continue;
            }
            let span = [from, tone.layers].map(|l| stacking.top_mm(l));
            from = tone.layers;
            let (mesh, area) = prism(&above[n], span);
            if area.mm2() < NOTHING_MM2 {
                continue;
            }
            let spool = &stacking.spools[tone.spool];
            let before = bodies.iter().filter(|b| b.colour == spool.colour).count();
            bodies.push(Body {
                name: match before {
                    0 => spool.name.clone(),
                    n => format!("{} {}", spool.name, n + 1),
                },
                colour: spool.colour,
                mesh,
                area_mm2: area.mm2(),
                area,
                span_mm: span,
            });
        }
        bodies
    }
}
