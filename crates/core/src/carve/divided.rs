//! One facet divided into triangles, each with a label.

use super::labels::Label;
use serde::{Deserialize, Serialize};
use std::sync::OnceLock;

/// A point on a facet, as shares of its corners.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub enum Spot {
    /// One of its corners, 0 to 2.
    Corner(u8),
    /// On an edge: a share `t` of the way between two corners. The facet across names the same two corners in the same
    /// order with the same share, so both find the point at the same bits.
    Edge {
        /// The corner it is measured from.
        from: u8,
        /// The corner it is measured towards.
        to: u8,
        /// Share of the way, between 0 and 1.
        t: f64,
    },
    /// Inside: corner 0, plus these shares of the edges to corners 1 and 2.
    Inside([f64; 2]),
}

impl Spot {
    /// The point, for a facet with these corners.
    pub fn point(&self, corners: &[[f64; 3]; 3]) -> [f64; 3] {
        match *self {
            Spot::Corner(k) => corners[usize::from(k)],
            Spot::Edge { from, to, t } => {
                let (a, b) = (corners[usize::from(from)], corners[usize::from(to)]);
                [0, 1, 2].map(|i| a[i] + t * (b[i] - a[i]))
            }
            Spot::Inside([u, v]) => {
                let [a, b, c] = *corners;
                [0, 1, 2].map(|i| a[i] + u * (b[i] - a[i]) + v * (c[i] - a[i]))
            }
        }
    }

    /// Shares of the edges from corner 0 to corners 1 and 2.
    pub fn shares(&self) -> [f64; 2] {
        const CORNERS: [[f64; 2]; 3] = [[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]];
        match *self {
            Spot::Corner(k) => CORNERS[usize::from(k)],
            Spot::Edge { from, to, t } => {
                let (a, b) = (CORNERS[usize::from(from)], CORNERS[usize::from(to)]);
                [0, 1].map(|i| a[i] + t * (b[i] - a[i]))
            }
            Spot::Inside(shares) => shares,
        }
    }

    /// The same point once the facet's corners are numbered otherwise: corner k becomes `order[k]`.
    fn renumbered(&self, order: [u8; 3]) -> Spot {
        let to_new = |k: u8| order[usize::from(k)];
        match *self {
            Spot::Corner(k) => Spot::Corner(to_new(k)),
            Spot::Edge { from, to, t } => Spot::Edge {
                from: to_new(from),
                to: to_new(to),
                t,
            },
            Spot::Inside([u, v]) => {
                let mut shares = [0.0; 3];
                for (k, share) in [1.0 - u - v, u, v].into_iter().enumerate() {
                    shares[usize::from(order[k])] = share;
                }
                Spot::Inside([shares[1], shares[2]])
            }
        }
    }
}

/// A facet divided into triangles.
#[derive(Debug, Default, Serialize, Deserialize)]
pub struct Divided {
    /// Its points; the three corners are among them.
    pub spots: Vec<Spot>,
    /// Triangles over the points, counter-clockwise like the facet.
    pub triangles: Vec<[u32; 3]>,
    /// Label of each triangle.
    pub labels: Vec<Label>,
    #[serde(skip)]
    search: OnceLock<Search>,
}

impl PartialEq for Divided {
    fn eq(&self, other: &Self) -> bool {
        self.spots == other.spots
            && self.triangles == other.triangles
            && self.labels == other.labels
    }
}

/// Triangles by the squares of a grid over the shares, for facets with many.
#[derive(Debug)]
struct Search {
    across: usize,
    starts: Vec<u32>,
    triangles: Vec<u32>,
}

/// Up to this many triangles are looked through one by one.
const FEW: usize = 16;

impl Divided {
    /// A divided facet from its pieces.
    pub fn new(spots: Vec<Spot>, triangles: Vec<[u32; 3]>, labels: Vec<Label>) -> Divided {
        Divided {
            spots,
            triangles,
            labels,
            search: OnceLock::new(),
        }
    }

    /// The same division with other labels.
    pub fn relabelled(&self, mut label: impl FnMut(usize, Label) -> Label) -> Divided {
        let labels = self.labels.iter().enumerate();
        Divided::new(
            self.spots.clone(),
            self.triangles.clone(),
            labels.map(|(i, l)| label(i, *l)).collect(),
        )
    }

    /// The same division of a facet whose corners are numbered otherwise: corner k has become corner `order[k]`.
    pub fn renumbered(&self, order: [u8; 3]) -> Divided {
        let is_turned = (usize::from(order[1]) + 3 - usize::from(order[0])) % 3 == 2;
        let triangles = self.triangles.iter();
        Divided::new(
            self.spots.iter().map(|s| s.renumbered(order)).collect(),
            triangles
                .map(|[a, b, c]| {
                    if is_turned {
                        [*a, *c, *b]
                    } else {
                        [*a, *b, *c]
                    }
                })
                .collect(),
            self.labels.clone(),
        )
    }

    /// The one label of all its triangles, if they have the same.
    pub fn only_label(&self) -> Option<Label> {
        let first = *self.labels.first()?;
        self.labels.iter().all(|l| *l == first).then_some(first)
    }

    /// The sides of the facet that have points besides their ends.
    pub fn sides_with_points(&self) -> Vec<usize> {
        let side = |s: &Spot| match *s {
            Spot::Edge { from, to, .. } => {
                Some(usize::from(if (from + 1) % 3 == to { from } else { to }))
            }
            _ => None,
        };
        let mut sides: Vec<usize> = self.spots.iter().filter_map(side).collect();
        sides.sort_unstable();
        sides.dedup();
        sides
    }

    /// The label that covers most of it.
    pub fn main_label(&self) -> Label {
        let mut areas: Vec<(Label, f64)> = Vec::new();
        for (triangle, label) in self.triangles.iter().zip(&self.labels) {
            let [a, b, c] = triangle.map(|s| self.spots[s as usize].shares());
            let twice = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
            match areas.iter_mut().find(|(l, _)| l == label) {
                Some(entry) => entry.1 += twice,
                None => areas.push((*label, twice)),
            }
        }
        let most = areas.into_iter().max_by(|a, b| a.1.total_cmp(&b.1));
        most.and_then(|m| m.0)
    }

    /// Whether no point lies on an edge or inside.
    pub fn is_whole(&self) -> bool {
        self.triangles.len() == 1
    }

    /// Corners of a triangle, for a facet with these corners.
    pub fn corners(&self, triangle: usize, facet: &[[f64; 3]; 3]) -> [[f64; 3]; 3] {
        self.triangles[triangle].map(|s| self.spots[s as usize].point(facet))
    }

    /// The triangle at a place on the facet: shares of the edges to corners 1 and 2.
    pub fn triangle_at(&self, shares: [f64; 2]) -> usize {
        if self.triangles.len() <= FEW {
            return self.best(shares, 0..self.triangles.len() as u32);
        }
        let search = self.search.get_or_init(|| self.search());
        let square = |s: f64| ((s * search.across as f64) as usize).min(search.across - 1);
        let at = square(shares[1].max(0.0)) * search.across + square(shares[0].max(0.0));
        let range = search.starts[at] as usize..search.starts[at + 1] as usize;
        if range.is_empty() {
            // Outside of the facet by rounding.
            return self.best(shares, 0..self.triangles.len() as u32);
        }
        self.best(shares, search.triangles[range].iter().copied())
    }

    /// Of some triangles the one that holds the place best.
    fn best(&self, [u, v]: [f64; 2], among: impl Iterator<Item = u32>) -> usize {
        let mut best = (f64::NEG_INFINITY, 0);
        for index in among {
            let [a, b, c] = self.triangles[index as usize].map(|s| self.spots[s as usize].shares());
            let twice =
                |p: [f64; 2], q: [f64; 2]| (p[0] - u) * (q[1] - v) - (p[1] - v) * (q[0] - u);
            let parts = [twice(a, b), twice(b, c), twice(c, a)];
            let whole = parts[0] + parts[1] + parts[2];
            let least = parts.into_iter().fold(f64::INFINITY, f64::min) / whole.max(1e-300);
            if least > best.0 {
                best = (least, index as usize);
            }
        }
        best.1
    }

    fn search(&self) -> Search {
        let across = (self.triangles.len() as f64).sqrt().ceil().min(256.0) as usize;
        let square = |s: f64| ((s.max(0.0) * across as f64) as usize).min(across - 1);
        let squares = |t: &[u32; 3]| {
            let c = t.map(|s| self.spots[s as usize].shares());
            let span = |i: usize| {
                let low = c[0][i].min(c[1][i]).min(c[2][i]);
                let high = c[0][i].max(c[1][i]).max(c[2][i]);
                square(low)..=square(high)
            };
            let (x, y) = (span(0), span(1));
            y.flat_map(move |y| x.clone().map(move |x| y * across + x))
        };
        let mut starts = vec![0u32; across * across + 1];
        for at in self.triangles.iter().flat_map(squares) {
            starts[at + 1] += 1;
        }
        for i in 1..starts.len() {
            starts[i] += starts[i - 1];
        }
        let mut fill = starts.clone();
        let mut triangles = vec![0u32; starts[across * across] as usize];
        for (index, t) in self.triangles.iter().enumerate() {
            for at in squares(t) {
                triangles[fill[at] as usize] = index as u32;
                fill[at] += 1;
            }
        }
        Search {
            across,
            starts,
            triangles,
        }
    }
}
