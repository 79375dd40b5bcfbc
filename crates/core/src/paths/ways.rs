//! Travel that stays over what is printed: straight where it can, else along the outlines that are in its way.

use super::bead::way;
use crate::shapes::Area;
use rstar::primitives::{GeomWithData, Line};
use rstar::{AABB, RTree};

/// A way around may be so many times as long as the straight one.
const MOST_LONGER: f64 = 3.0;

/// Places of a way that are looked at for short cuts.
const MOST_LOOKS: usize = 80;

type Side = GeomWithData<Line<[f64; 2]>, (u32, u32)>;

/// Where a nozzle may travel, mm.
#[derive(Default)]
pub(super) struct Ways {
    rings: Vec<Vec<[f64; 2]>>,
    sides: RTree<Side>,
}

impl Ways {
    /// An area at the place of every piece.
    ///
    /// # Cost
    /// n log n in corners.
    pub(super) fn of(area: &Area, pieces: &[[f64; 2]]) -> Ways {
        let one = area.rings_mm();
        let moved = |by: &[f64; 2]| -> Vec<Vec<[f64; 2]>> {
            let ring = |r: &Vec<[f64; 2]>| r.iter().map(|p| [p[0] + by[0], p[1] + by[1]]).collect();
            one.iter().map(ring).collect()
        };
        let rings: Vec<Vec<[f64; 2]>> = pieces.iter().flat_map(moved).collect();
        let mut sides = Vec::new();
        for (number, ring) in rings.iter().enumerate() {
            for (index, from) in ring.iter().enumerate() {
                let to = ring[(index + 1) % ring.len()];
                let line = Line::new(*from, to);
                sides.push(GeomWithData::new(line, (number as u32, index as u32)));
            }
        }
        Ways {
            rings,
            sides: RTree::bulk_load(sides),
        }
    }

    /// The places to go by from one to another, without the first; none if there is no way inside that is worth it.
    pub(super) fn way(&self, [from, to]: [[f64; 2]; 2]) -> Option<Vec<[f64; 2]>> {
        if !self.holds(from) || !self.holds(to) {
            return None;
        }
        let crossings = self.crossings(from, to);
        if crossings.is_empty() {
            return Some(vec![to]);
        }
        let mut places = vec![from];
        for pair in crossings.chunks(2) {
            let [out, back] = pair else {
                return None;
            };
            if out.1.0 != back.1.0 {
                return None;
            }
            let p = |t: f64| [0, 1].map(|i| from[i] + t * (to[i] - from[i]));
            places.push(p(out.0));
            places.extend(self.around(out.1, back.1, p(out.0), p(back.0)));
            places.push(p(back.0));
        }
        places.push(to);
        let places = self.shortened(places);
        let length: f64 = places.windows(2).map(|w| way(w[0], w[1])).sum();
        (length <= MOST_LONGER * way(from, to)).then(|| places[1..].to_vec())
    }

    /// Corners of an outline between two of its sides, the shorter way round.
    fn around(
        &self,
        (ring, first): (u32, u32),
        (_, last): (u32, u32),
        from: [f64; 2],
        to: [f64; 2],
    ) -> Vec<[f64; 2]> {
        let ring = &self.rings[ring as usize];
        let count = ring.len();
        let (first, last) = (first as usize, last as usize);
        let ahead = (last + count - first) % count;
        let forth: Vec<[f64; 2]> = (1..=ahead).map(|i| ring[(first + i) % count]).collect();
        let behind = (first + count - last) % count;
        let back: Vec<[f64; 2]> = (0..behind)
            .map(|i| ring[(first + count - i) % count])
            .collect();
        let length = |corners: &[[f64; 2]]| -> f64 {
            let all = [from]
                .into_iter()
                .chain(corners.iter().copied())
                .chain([to]);
            let all: Vec<[f64; 2]> = all.collect();
            all.windows(2).map(|w| way(w[0], w[1])).sum()
        };
        match length(&forth) <= length(&back) {
            true => forth,
            false => back,
        }
    }

    /// The same way with corners left out that are not needed.
    fn shortened(&self, places: Vec<[f64; 2]>) -> Vec<[f64; 2]> {
        let mut kept = vec![places[0]];
        let mut at = 0;
        while at + 1 < places.len() {
            let furthest = (at + 1..places.len()).rev().take(MOST_LOOKS);
            let mut looks =
                furthest.filter(|next| self.crossings(places[at], places[*next]).is_empty());
            at = looks.next().unwrap_or(at + 1).max(at + 1);
            kept.push(places[at]);
        }
        kept
    }

    fn holds(&self, p: [f64; 2]) -> bool {
        let ray = AABB::from_corners(p, [f64::MAX, p[1]]);
        let mut inside = false;
        for side in self.sides.locate_in_envelope_intersecting(ray) {
            let line = side.geom();
            let [a, b] = [line.from, line.to];
            if (a[1] > p[1]) != (b[1] > p[1]) {
                let t = (p[1] - a[1]) / (b[1] - a[1]);
                inside ^= p[0] < a[0] + t * (b[0] - a[0]);
            }
        }
        inside
    }

    /// Where a straight way crosses outlines: share of the way, and which side of which, in order.
    fn crossings(&self, from: [f64; 2], to: [f64; 2]) -> Vec<(f64, (u32, u32))> {
        // Along an outline is not across it.
        const HAIR: f64 = 1e-6;
        let low = [0, 1].map(|i| f64::min(from[i], to[i]));
        let high = [0, 1].map(|i| f64::max(from[i], to[i]));
        let d = [to[0] - from[0], to[1] - from[1]];
        let length = d[0].hypot(d[1]);
        let mut found = Vec::new();
        for side in self
            .sides
            .locate_in_envelope_intersecting(AABB::from_corners(low, high))
        {
            let line = side.geom();
            // How far its ends lie to the left of the way, mm.
            let left = |p: [f64; 2]| (d[0] * (p[1] - from[1]) - d[1] * (p[0] - from[0])) / length;
            let (a, b) = (left(line.from), left(line.to));
            if (a > 0.0) == (b > 0.0) {
                continue;
            }
            let u = a / (a - b);
            let at = [0, 1].map(|i| line.from[i] + u * (line.to[i] - line.from[i]));
            let t = (d[0] * (at[0] - from[0]) + d[1] * (at[1] - from[1])) / (length * length);
            if t * length > HAIR && (1.0 - t) * length > HAIR {
                found.push((t, side.data));
            }
        }
        found.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
        found
    }
}
