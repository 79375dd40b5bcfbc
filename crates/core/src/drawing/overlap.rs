//! What paints over what: from shapes over one another to areas beside one another.

use crate::colour::Colour;
use crate::shapes::Area;
use std::collections::BTreeMap;

/// A shape that is painted over what was painted before.
#[derive(Debug, Clone)]
pub(super) struct Painted {
    pub(super) area: Area,
    pub(super) colour: Colour,
    /// Share of what is below that it hides.
    pub(super) opacity: f64,
}

/// Hides all but this is opaque: what is left cannot be seen.
const OPAQUE: f64 = 0.995;

/// Areas by colour.
#[derive(Debug, Clone, Default)]
struct Layered {
    inks: BTreeMap<Colour, Area>,
    covered: Area,
}

/// The area of each colour, as it is seen from above.
///
/// # Cost
/// n log n in the corners for opaque shapes that do not all lie over one another; a translucent one costs all that it touches.
pub(super) fn resolved(shapes: &[Painted]) -> BTreeMap<Colour, Area> {
    let mut done = Layered::default();
    let mut rest = shapes;
    while let Some(first) = rest.first() {
        if first.opacity < OPAQUE {
            done.tint(first);
            rest = &rest[1..];
            continue;
        }
        let count = rest.iter().take_while(|s| s.opacity >= OPAQUE).count();
        done.cover(opaque(&rest[..count]));
        rest = &rest[count..];
    }
    done.inks.retain(|_, area| !area.is_empty());
    done.inks
}

fn opaque(shapes: &[Painted]) -> Layered {
    match shapes {
        [] => Layered::default(),
        [one] => Layered {
            inks: BTreeMap::from([(one.colour, one.area.clone())]),
            covered: one.area.clone(),
        },
        several => {
            let (below, above) = several.split_at(several.len() / 2);
            let (mut below, above) = rayon::join(|| opaque(below), || opaque(above));
            below.cover(above);
            below
        }
    }
}

impl Layered {
    /// Lays others over these.
    fn cover(&mut self, above: Layered) {
        for (colour, area) in &mut self.inks {
            let covered = match area.bounds() {
                Some((low, high)) => above.covered.near(low, high),
                None => continue,
            };
            // What is of its own colour anyway leaves no seam.
            let covered = match above.inks.get(colour) {
                Some(same) => covered.minus(same),
                None => covered,
            };
            if !covered.is_empty() {
                *area = area.minus(&covered);
            }
        }
        for (colour, area) in above.inks {
            let own = self.inks.entry(colour).or_default();
            *own = own.or(&area);
        }
        self.covered = self.covered.or(&above.covered);
    }

    /// Lays something over these that they are seen through; over nothing it is seen on white.
    fn tint(&mut self, above: &Painted) {
        let mixed = |below: Colour| {
            let [a, b] = [above.colour, below].map(|c| c.0.map(f64::from));
            let t = above.opacity;
            Colour([0, 1, 2].map(|i| (t * a[i] + (1.0 - t) * b[i]).round() as u8))
        };
        let Some((low, high)) = above.area.bounds() else {
            return;
        };
        let mut made: Vec<(Colour, Area)> = Vec::new();
        for (colour, area) in &mut self.inks {
            if area.near(low, high).is_empty() {
                continue;
            }
            let (inside, outside) = area.split(&above.area);
            if !inside.is_empty() {
                *area = outside;
                made.push((mixed(*colour), inside));
            }
        }
        let alone = above.area.minus(&self.covered.near(low, high));
        if !alone.is_empty() {
            made.push((mixed(Colour([255; 3])), alone));
        }
        for (colour, area) in made {
            let own = self.inks.entry(colour).or_default();
            *own = own.or(&area);
        }
        self.covered = self.covered.or(&above.area);
    }
}
