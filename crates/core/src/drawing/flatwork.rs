//! What becomes of a drawing: which colours are bodies, how thick, and what lies around and below.

use super::flat::{Flat, Ink};
use crate::Problem;
use crate::colour::Colour;
use crate::figure;
use serde::{Deserialize, Serialize};

/// What becomes of a colour.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case", tag = "is")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Fate {
    /// A body of its own.
    #[default]
    Body,
    /// Part of another colour's body.
    Joins {
        /// Number of that colour, from 0.
        with: usize,
    },
    /// Nothing is there; what lies below goes on.
    LeftOut,
    /// Nothing is there, all the way through.
    Hole,
}

/// One colour of a drawing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct InkChoice {
    /// What becomes of it.
    #[serde(default)]
    pub fate: Fate,
    /// How thick it is, mm.
    pub thickness_mm: f64,
    /// What its body is called; as the drawing calls it if left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
    /// Its colour; that of the drawing if left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub colour: Option<Colour>,
}

/// A plate below all colours.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Base {
    /// The colour that it has, from 0.
    pub ink: usize,
    /// How thick it is, mm.
    pub thickness_mm: f64,
    /// How far it stands out beyond the drawing, mm.
    pub margin_mm: f64,
}

/// A rim around the drawing, as high as its colours.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Outline {
    /// The colour that it has, from 0.
    pub ink: usize,
    /// How wide it is, mm.
    pub width_mm: f64,
}

/// A hole to hang it by.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Eyelet {
    /// Middle of the hole, mm from the lower left corner of the page.
    pub at: [f64; 2],
    /// Diameter of the hole, mm.
    pub hole_mm: f64,
    /// Plastic around it, mm; none where it is cut into what is there.
    pub ring_mm: f64,
    /// The colour of the ring, from 0.
    pub ink: usize,
}

/// Which side is looked at.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Side {
    /// The upper one.
    #[default]
    Upper,
    /// The one on the bed: colours lie on it, mirrored, and the plate above them.
    Bed,
}

/// What becomes of a drawing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Flatwork {
    /// By colour of the drawing, in its order.
    pub inks: Vec<InkChoice>,
    /// A plate below, if any.
    #[serde(default)]
    pub base: Option<Base>,
    /// A rim around, if any.
    #[serde(default)]
    pub outline: Option<Outline>,
    /// A hole to hang it by, if any.
    #[serde(default)]
    pub eyelet: Option<Eyelet>,
    /// Which side is looked at.
    #[serde(default)]
    pub side: Side,
    /// What is thinner is made so wide, mm; left as it is without.
    #[serde(default)]
    pub thicken_mm: Option<f64>,
}

impl Flatwork {
    /// Every one of so many colours a body of one thickness, nothing around and below.
    pub fn plain(colours: usize, thickness_mm: f64) -> Flatwork {
        let ink = InkChoice {
            fate: Fate::Body,
            thickness_mm,
            name: None,
            colour: None,
        };
        Flatwork {
            inks: vec![ink; colours],
            base: None,
            outline: None,
            eyelet: None,
            side: Side::Upper,
            thicken_mm: None,
        }
    }

    /// The same for another reading of the drawing, or for another drawing in its place: what was said of a colour goes on with it,
    /// wherever it stands in the list; what is new is a body as thick as the first was.
    pub fn moved(&self, from: &Flat, to: &Flat) -> Flatwork {
        let thickness = self.inks.first().map_or(0.4, |i| i.thickness_mm);
        // Colours are known by colour and name, then by either.
        let same = |old: &Ink, new: &Ink| match (old.colour == new.colour, old.name == new.name) {
            (true, true) => 3,
            (true, false) => 2,
            (false, true) => 1,
            (false, false) => 0,
        };
        let best = |of: &Ink, among: &[Ink]| {
            let ranked = (0..among.len()).map(|i| (same(of, &among[i]), i));
            let found = ranked.filter(|(rank, _)| *rank > 0);
            found
                .max_by_key(|(rank, i)| (*rank, usize::MAX - i))
                .map(|(_, i)| i)
        };
        let now = |old: usize| from.inks.get(old).and_then(|i| best(i, &to.inks));
        let mut moved = Flatwork::plain(to.inks.len(), thickness);
        for (new, choice) in to.inks.iter().zip(&mut moved.inks) {
            let Some(old) = best(new, &from.inks).and_then(|i| self.inks.get(i)) else {
                continue;
            };
            *choice = old.clone();
            if let Fate::Joins { with } = old.fate {
                choice.fate = now(with).map_or(Fate::Body, |with| Fate::Joins { with });
            }
        }
        if (0..to.inks.len())
            .any(|i| matches!(moved.inks[i].fate, Fate::Joins { .. }) && moved.body_of(i).is_none())
        {
            moved.inks.iter_mut().for_each(|i| i.fate = Fate::Body);
        }
        moved.base = self.base.map(|b| Base {
            ink: now(b.ink).unwrap_or(0),
            ..b
        });
        moved.outline = self.outline.map(|o| Outline {
            ink: now(o.ink).unwrap_or(0),
            ..o
        });
        moved.eyelet = self.eyelet.map(|e| Eyelet {
            ink: now(e.ink).unwrap_or(0),
            ..e
        });
        moved.side = self.side;
        moved.thicken_mm = self.thicken_mm;
        moved
    }

    /// The colour of whose body a colour is part in the end; none where it is no body.
    pub fn body_of(&self, ink: usize) -> Option<usize> {
        let mut at = ink;
        for _ in 0..=self.inks.len() {
            match self.inks.get(at)?.fate {
                Fate::Body => return Some(at),
                Fate::Joins { with } => at = with,
                Fate::LeftOut | Fate::Hole => return None,
            }
        }
        None
    }

    /// Whether all of it can be made of a drawing with so many colours.
    ///
    /// # Errors
    /// `flatwork-range`, `flatwork-ink`, `flatwork-nothing`.
    pub fn check(&self, colours: usize) -> Result<(), Problem> {
        let within = |value: f64, [low, high]: [f64; 2], what: &str, place: &str| match value
            .is_finite()
            && (low..=high).contains(&value)
        {
            true => Ok(()),
            false => Err(Problem::new(
                "flatwork-range",
                format!("{what} of {} mm cannot be made", figure(value)),
                place,
                format!("Type something between {low} and {high} mm."),
            )),
        };
        let ink = |of: usize, place: &str| match of < colours {
            true => Ok(()),
            false => Err(Problem::new(
                "flatwork-ink",
                format!("This drawing has no colour {}", of + 1),
                place,
                format!("Choose one of its {colours}."),
            )),
        };
        if self.inks.len() != colours {
            return Err(Problem::new(
                "flatwork-ink",
                format!(
                    "The drawing has {}, and something is said of {}",
                    crate::counted(colours, "colour"),
                    self.inks.len()
                ),
                "inks",
                "Read the drawing again.",
            ));
        }
        for (number, choice) in self.inks.iter().enumerate() {
            let place = format!("inks[{number}]");
            within(choice.thickness_mm, [0.04, 100.0], "A thickness", &place)?;
            if let Fate::Joins { with } = choice.fate {
                ink(with, &place)?;
                if self.body_of(number).is_none() {
                    return Err(Problem::new(
                        "flatwork-ink",
                        format!("Colour {} joins one that is no body", number + 1),
                        &place,
                        "Join it with a colour that is a body of its own.",
                    ));
                }
            }
        }
        if (0..colours).all(|n| self.body_of(n).is_none()) {
            return Err(Problem::new(
                "flatwork-nothing",
                "No colour is left to be a body",
                "inks",
                "Make at least one colour a body.",
            ));
        }
        if let Some(base) = self.base {
            ink(base.ink, "base")?;
            within(base.thickness_mm, [0.04, 100.0], "A plate", "base")?;
            within(base.margin_mm, [0.0, 100.0], "A margin", "base")?;
        }
        if let Some(outline) = self.outline {
            ink(outline.ink, "outline")?;
            within(outline.width_mm, [0.1, 100.0], "A rim", "outline")?;
        }
        if let Some(eyelet) = self.eyelet {
            ink(eyelet.ink, "eyelet")?;
            within(eyelet.hole_mm, [0.3, 200.0], "A hole", "eyelet")?;
            within(eyelet.ring_mm, [0.0, 100.0], "A ring", "eyelet")?;
            for c in eyelet.at {
                within(c, [-500.0, 3000.0], "A place", "eyelet")?;
            }
        }
        if let Some(width) = self.thicken_mm {
            within(width, [0.05, 10.0], "A least width", "thicken_mm")?;
        }
        Ok(())
    }
}
