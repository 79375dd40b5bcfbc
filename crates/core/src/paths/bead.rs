//! Beads: what the nozzle lays down in one go.

use serde::Serialize;

/// What a bead is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum BeadKind {
    /// Around the first layer, touching nothing: it shows that plastic flows.
    Skirt,
    /// Around the first layer, touching it: it holds on to the bed.
    Brim,
    /// The wall that is seen.
    OuterWall,
    /// A wall behind it.
    InnerWall,
    /// All there is of what is too thin for two walls, or is left between beads.
    Thin,
    /// Solid rows below or above open air.
    Skin,
    /// Solid rows that hang between two sides.
    Bridge,
    /// A hot nozzle with hardly any plastic over a top that is laid, close row by close row.
    Smoothing,
    /// Rows of the sparse inside.
    Sparse,
    /// What holds up what would hang.
    Support,
    /// The purge tower.
    Tower,
    /// Before the print begins.
    Prime,
}

/// A place on a bead.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Joint {
    /// In mm.
    pub at: [f64; 2],
    /// How wide the bead is from here on, mm: what has this width, the layer's height and the length to the next place is laid.
    pub width: f64,
}

/// A line of plastic.
#[derive(Debug, Clone, PartialEq)]
pub struct Bead {
    /// What for.
    pub kind: BeadKind,
    /// Its places; one that is closed does not repeat its first.
    pub line: Vec<Joint>,
    /// Whether it ends where it begins.
    pub is_closed: bool,
}

impl Bead {
    /// One of the same width all along.
    pub fn even(kind: BeadKind, places: &[[f64; 2]], width: f64, is_closed: bool) -> Bead {
        Bead {
            kind,
            line: places.iter().map(|at| Joint { at: *at, width }).collect(),
            is_closed,
        }
    }

    /// Its stretches, each with its width.
    pub fn stretches(&self) -> impl Iterator<Item = ([f64; 2], [f64; 2], f64)> + '_ {
        let next = self.line.iter().cycle().skip(1);
        let count = self.line.len() - usize::from(!self.is_closed).min(self.line.len());
        let pairs = self.line.iter().zip(next).take(count);
        pairs.map(|(a, b)| (a.at, b.at, 0.5 * (a.width + b.width)))
    }

    /// The same bead somewhere else.
    pub(super) fn moved(&self, by: [f64; 2]) -> Bead {
        let mut bead = self.clone();
        for joint in &mut bead.line {
            joint.at = [0, 1].map(|i| joint.at[i] + by[i]);
        }
        bead
    }

    /// In two, the first of which takes so much ground, mm²; both open.
    pub(super) fn cut(self, mm2: f64) -> (Bead, Bead) {
        let (mut sum, mut at) = (0.0, 0);
        for (a, b, width) in self.stretches() {
            let here = way(a, b) * width;
            if sum + here >= mm2 {
                let t = ((mm2 - sum) / here.max(1e-12)).clamp(0.0, 1.0);
                let middle = Joint {
                    at: [0, 1].map(|i| a[i] + t * (b[i] - a[i])),
                    ..self.line[at]
                };
                let mut first = self.line[..=at].to_vec();
                first.push(middle);
                let mut rest = vec![middle];
                rest.extend_from_slice(&self.line[at + 1..]);
                if self.is_closed {
                    rest.extend(self.line.first().copied());
                }
                return (self.with(first), self.with(rest));
            }
            sum += here;
            at += 1;
        }
        let rest = self.with(Vec::new());
        (self, rest)
    }

    /// An open bead of the same kind.
    fn with(&self, line: Vec<Joint>) -> Bead {
        Bead {
            kind: self.kind,
            line,
            is_closed: false,
        }
    }

    /// Length, mm.
    pub fn length_mm(&self) -> f64 {
        self.stretches().map(|(a, b, _)| way(a, b)).sum()
    }

    /// Ground that its plastic takes when spread flat, mm²: length times width.
    pub fn ground_mm2(&self) -> f64 {
        self.stretches().map(|(a, b, w)| way(a, b) * w).sum()
    }
}

/// Distance of two places.
pub(super) fn way(a: [f64; 2], b: [f64; 2]) -> f64 {
    (a[0] - b[0]).hypot(a[1] - b[1])
}

/// Makes beads wider or narrower by a factor, within limits of width in mm.
pub(super) fn scale(beads: &mut [Bead], factor: f64, [least, most]: [f64; 2]) {
    for joint in beads.iter_mut().flat_map(|b| &mut b.line) {
        joint.width = (joint.width * factor).clamp(least, most);
    }
}
