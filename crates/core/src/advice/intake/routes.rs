//! Whether a model can be split, and which way of colouring suits it on a machine.

use crate::machine::Printer;
use crate::model::OpenMesh;
use serde::Serialize;

/// The ways of giving a model colours.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum RouteKind {
    /// Each part whole.
    Parts,
    /// Faces between sharp edges.
    Patches,
    /// Everything between two heights.
    Bands,
    /// Strokes by hand.
    Strokes,
}

/// One way of colouring, and how well it suits.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Route {
    /// Which.
    pub kind: RouteKind,
    /// Whether it works for this model at all.
    pub works: bool,
    /// Why, or why not, in one sentence.
    pub why: String,
}

/// Whether a model can be split, and the ways of colouring it, the best first.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Split {
    /// Number of parts.
    pub parts: usize,
    /// The answer in one plain sentence.
    pub answer: String,
    /// Patches at the crease angle.
    pub patches: u32,
    /// Of those, patches large enough to be seen: a hundredth of the surface or more.
    pub large_patches: u32,
    /// Crease angle the patches were found at, degrees.
    pub crease_deg: f64,
    /// The ways, the best for this model and machine first.
    pub routes: Vec<Route>,
}

/// What a swap costs on a machine, as far as the choice of a way goes.
#[derive(Clone, Copy, PartialEq)]
enum Costs {
    /// Purge, and the time of the machine.
    Purge,
    /// A person who comes.
    Person,
    /// Hardly anything: every colour has a nozzle.
    Little,
    /// Purge, but colours can be blended from one to the next.
    Blends,
}

impl Costs {
    fn of(printer: &Printer) -> Costs {
        let profile = printer.profile();
        if profile.is_by_hand || profile.prints_in_passes || printer.slots == 1 {
            Costs::Person
        } else if profile.mixes.is_some() {
            Costs::Blends
        } else if !profile.rinses {
            Costs::Little
        } else {
            Costs::Purge
        }
    }
}

/// What a machine adds to the reason for a way; nothing where it makes no difference.
fn on_machine(kind: RouteKind, machine: Costs) -> Option<&'static str> {
    match (kind, machine) {
        (RouteKind::Bands, Costs::Person) => Some("You come to the machine once a change."),
        (RouteKind::Bands, Costs::Blends) => Some("Bands may blend into one another."),
        (RouteKind::Strokes | RouteKind::Patches, Costs::Little) => {
            Some("With a nozzle for every colour, swaps cost hardly any purge.")
        }
        (RouteKind::Strokes | RouteKind::Patches, Costs::Person) => {
            Some("Layers with several colours need you at every one.")
        }
        _ => None,
    }
}

/// How well a way suits where the machine makes no difference.
fn usual(kind: RouteKind, is_smooth: bool, has_levels: bool) -> u8 {
    match kind {
        RouteKind::Parts => 9,
        RouteKind::Patches => 7,
        RouteKind::Bands if has_levels => 6,
        RouteKind::Strokes if is_smooth => 5,
        RouteKind::Bands => 4,
        RouteKind::Strokes => 3,
    }
}

/// Share of the surface from which a patch counts as seen.
const LARGE: f64 = 0.01;
/// Parts and patches beyond this many are no work for a click each.
const MANY: u32 = 400;

/// Looks at how a model can be divided. Linear in facets; the patches are those at `crease_deg`, 1 to 90.
pub fn split(open: &OpenMesh, crease_deg: f64, printer: &Printer) -> Split {
    let partition = open.creases().partition(&open.topology, crease_deg);
    let count = partition.count as usize;
    let areas = open.facet_areas();
    let whole: f64 = areas.iter().sum();
    let mut patch_area = vec![0.0; count];
    // Area of each patch that looks up, and the lowest and highest point of it.
    let mut up = vec![0.0; count];
    let mut span = vec![(f64::INFINITY, f64::NEG_INFINITY); count];
    for (facet, patch) in partition.patch_of.iter().enumerate() {
        let patch = *patch as usize;
        patch_area[patch] += areas[facet];
        let [a, b, c] = open.mesh.corners(facet as u32);
        let z = [a[2], b[2], c[2]];
        let twice = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
        up[patch] += 0.5 * twice;
        for z in z {
            span[patch] = (span[patch].0.min(z), span[patch].1.max(z));
        }
    }
    let is_large = |p: &usize| patch_area[*p] >= LARGE * whole;
    let large_patches = (0..count).filter(is_large).count() as u32;
    // Level tops: flat patches that look up, told apart by height in whole layers.
    let layer = printer.layer_mm.max(0.01);
    let mut levels: Vec<i64> = (0..count)
        .filter(|p| up[*p] > 0.98 * patch_area[*p] && span[*p].1 - span[*p].0 < 0.5 * layer)
        .map(|p| (span[p].1 / layer).round() as i64)
        .collect();
    levels.sort_unstable();
    levels.dedup();
    let parts = open.parts.len();
    let patches = partition.count;

    let by_parts = Route {
        kind: RouteKind::Parts,
        works: parts > 1,
        why: if parts > 1 {
            format!("{parts} separate parts: each takes a colour in one click, right through.")
        } else {
            "All facets hang together in one body, so there are no parts to choose from.".into()
        },
    };
    // A patch for each part says no more than the parts do.
    let is_smooth = large_patches as usize <= parts;
    let by_patches = Route {
        kind: RouteKind::Patches,
        works: !is_smooth && patches <= 50 * MANY,
        why: if parts > 1 && patches as usize <= parts {
            format!(
                "Nothing turns by more than {crease_deg}° within a part: a click takes it whole."
            )
        } else if patches == 1 {
            format!("Nothing turns by more than {crease_deg}°, so a click would take all of it.")
        } else if is_smooth {
            format!(
                "At {crease_deg}° a patch covers nearly all of a part; a smaller angle finds more."
            )
        } else if patches > 50 * MANY {
            format!(
                "At {crease_deg}° the surface falls into {patches} scraps; a larger angle finds fewer."
            )
        } else {
            format!(
                "{patches} patches end at sharp edges, {large_patches} of them large: one click each."
            )
        },
    };
    let has_levels = levels.len() >= 2;
    let machine = Costs::of(printer);
    let by_bands = Route {
        kind: RouteKind::Bands,
        works: true,
        why: if has_levels {
            format!(
                "{} level tops at heights of their own: colour by height needs the fewest swaps, one a level.",
                levels.len()
            )
        } else {
            "Stripes at any height; the fewest swaps of all, one for each change of colour.".into()
        },
    };
    let by_strokes = Route {
        kind: RouteKind::Strokes,
        works: true,
        why: if is_smooth {
            "The surface has no edges to stop at, so strokes draw the borders.".into()
        } else {
            "For what no edge surrounds, and for touching up.".into()
        },
    };

    let mut routes = vec![by_parts, by_patches, by_bands, by_strokes];
    for route in &mut routes {
        if let Some(more) = on_machine(route.kind, machine) {
            route.why = format!("{} {more}", route.why);
        }
    }
    let score = |route: &Route| match (route.kind, machine) {
        _ if !route.works => 0,
        // Who has to come for every swap wants the fewest.
        (RouteKind::Bands, Costs::Person) => 10,
        (RouteKind::Parts, _) => 9,
        (RouteKind::Bands, Costs::Blends) => 8,
        (RouteKind::Strokes, Costs::Little) => 8,
        (RouteKind::Patches, _) => 7,
        (kind, _) => usual(kind, is_smooth, has_levels),
    };
    routes.sort_by_key(|r| std::cmp::Reverse(score(r)));
    let enclosed = open.parts.iter().filter(|p| !p.encloses.is_empty()).count();
    let answer = if parts > 1 {
        let within = if enclosed > 0 {
            ", some inside others"
        } else {
            ""
        };
        format!("{parts} separate parts{within}")
    } else {
        "One fused body: colours come from patches, bands or strokes, or cut it into parts".into()
    };
    Split {
        parts,
        answer,
        patches,
        large_patches,
        crease_deg,
        routes,
    }
}
