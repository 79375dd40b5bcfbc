//! The walls that go in from a border: below every vertex a pole with a foot for each depth, and facets between two poles.

/// No place.
pub(super) const NONE: u32 = u32::MAX;

/// Where the surface's vertices stand below, by depth.
pub(super) struct Poles<'a> {
    /// For each level of depth, shallowest first, and each vertex, its place, if it has one there.
    pub(super) place: &'a [Vec<u32>],
    /// The vertex that place 0 is.
    pub(super) first: u32,
}

impl Poles<'_> {
    /// The vertex at the foot of a pole at a level, where there is one.
    pub(super) fn foot(&self, level: usize, vertex: u32) -> u32 {
        self.first + self.place[level][vertex as usize]
    }

    /// The vertices of a pole from one level down to another, all that other walls may meet; no level is the surface.
    fn between(&self, vertex: u32, from: Option<usize>, to: usize) -> Vec<u32> {
        let top = from.map_or(vertex, |level| self.foot(level, vertex));
        let below = from.map_or(0, |level| level + 1)..=to;
        let feet = below.filter(|level| self.place[*level][vertex as usize] != NONE);
        let mut pole: Vec<u32> = vec![top];
        pole.extend(feet.map(|level| self.foot(level, vertex)));
        pole
    }
}

/// The walls along an edge of a border, as the facet of the first of two choices runs it, with what lies on their sides.
/// `levels` are those of the two; none for the rest, which has no floor. Below the floor of the less deep choice the wall is
/// one of the deeper towards the rest.
pub(super) fn each_wall(
    poles: &Poles<'_>,
    (a, b): (u32, u32),
    levels: [Option<usize>; 2],
    mut found: impl FnMut([u32; 3], Side),
) {
    let [Some(own), other] = levels else {
        return;
    };
    let Some(other) = other else {
        strip(poles, (a, b), None, own, |f| found(f, Side::FirstToRest));
        return;
    };
    let shallow = own.min(other);
    strip(poles, (a, b), None, shallow, |f| found(f, Side::Between));
    if own > shallow {
        strip(poles, (a, b), Some(shallow), own, |f| {
            found(f, Side::FirstToRest)
        });
    }
    if other > shallow {
        strip(poles, (b, a), Some(shallow), other, |f| {
            found(f, Side::SecondToRest)
        });
    }
}

/// What lies on the two sides of a wall; it faces out of the one that is named first.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Side {
    /// The first choice and the second.
    Between,
    /// The first choice and the rest.
    FirstToRest,
    /// The second choice and the rest.
    SecondToRest,
}

/// Facets between the poles of two vertices, from one level down to another.
fn strip(
    poles: &Poles<'_>,
    (a, b): (u32, u32),
    from: Option<usize>,
    to: usize,
    mut found: impl FnMut([u32; 3]),
) {
    let (a, b) = (poles.between(a, from, to), poles.between(b, from, to));
    let (mut i, mut j) = (0, 0);
    while i + 1 < a.len() || j + 1 < b.len() {
        // The pole that is behind goes on, so that the facets stay compact.
        let is_first = j + 1 == b.len()
            || (i + 1 < a.len() && (i + 1) * (b.len() - 1) <= (j + 1) * (a.len() - 1));
        let facet = if is_first {
            i += 1;
            [b[j], a[i - 1], a[i]]
        } else {
            j += 1;
            [b[j - 1], a[i], b[j]]
        };
        if facet[0] != facet[1] && facet[1] != facet[2] && facet[2] != facet[0] {
            found(facet);
        }
    }
}
