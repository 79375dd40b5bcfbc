//! The step wedge: a strip on which a spool lies one layer higher from step to step, and what its colours say of how it hides.

use super::{StackSpool, Stacking};
use crate::Problem;
use crate::colour::{Colour, Hiding, difference};
use crate::drawing::bodies::Body;
use crate::drawing::prism::prism;
use crate::shapes::Area;
use serde::{Deserialize, Serialize};

/// Edge of a step, mm: large enough to be seen without its borders.
const STEP_MM: f64 = 12.0;

/// Steps besides the bare base.
const STEPS: u32 = 8;

/// A step of a wedge as it was read off the print.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct WedgeStep {
    /// Layers of the spool on the base; 0 for the bare base.
    pub layers: u32,
    /// The colour it has.
    pub colour: Colour,
}

/// What a wedge says of a spool.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Calibrated {
    /// Its opacity.
    pub opacity: f64,
    /// Mean CIEDE2000 difference of the steps to what this opacity makes of them.
    pub mean_difference: f64,
}

/// The bodies of a wedge: a base of the first spool, and a stair of the second, one layer a step from left to right; the first step is bare.
///
/// # Errors
/// What [`Stacking::check`] says, and `stack-spools` unless there are two.
pub fn wedge(stacking: &Stacking) -> Result<Vec<Body>, Problem> {
    stacking.check()?;
    let [base, of] = &stacking.spools[..] else {
        return Err(Problem::new(
            "stack-spools",
            "A wedge has one spool on one other",
            "spools",
            "Choose two.",
        ));
    };
    let right = STEP_MM * f64::from(STEPS + 1);
    let body = |spool: &StackSpool, name: String, left: f64, span: [f64; 2]| {
        let (mesh, area) = prism(&Area::rectangle([left, 0.0], [right, STEP_MM]), span);
        Body {
            name,
            colour: spool.colour,
            mesh,
            area_mm2: area.mm2(),
            area,
            span_mm: span,
        }
    };
    let tops = |layers: u32| stacking.top_mm(stacking.base_layers + layers);
    let mut bodies = vec![body(base, base.name.clone(), 0.0, [0.0, tops(0)])];
    for step in 1..=STEPS {
        let left = STEP_MM * f64::from(step);
        let name = format!("{} {step}", of.name);
        bodies.push(body(of, name, left, [tops(step - 1), tops(step)]));
    }
    Ok(bodies)
}

/// The opacity that explains the steps of a wedge best.
///
/// `thick`: the spool's colour where nothing shows through. The bare base is taken as it was read.
///
/// # Errors
/// `wedge-steps` without the bare base and two steps of different heights.
pub fn calibrated(
    thick: Colour,
    layer_mm: f64,
    steps: &[WedgeStep],
) -> Result<Calibrated, Problem> {
    let base = steps.iter().find(|s| s.layers == 0);
    let mut heights: Vec<u32> = steps.iter().map(|s| s.layers).filter(|l| *l > 0).collect();
    heights.sort_unstable();
    heights.dedup();
    let (Some(base), 2..) = (base, heights.len()) else {
        return Err(Problem::new(
            "wedge-steps",
            "A wedge is read from its bare base and two steps at least",
            "steps",
            "Give the colours of more steps.",
        ));
    };
    let ground = base.colour.linear();
    let off = |opacity: f64| {
        let hiding = Hiding {
            colour: thick,
            opacity,
        };
        let s = hiding.scattering();
        let stairs = steps.iter().filter(|s| s.layers > 0);
        let far = |step: &WedgeStep| {
            let mm = f64::from(step.layers) * layer_mm;
            difference(hiding.with_scattering(ground, s, mm), step.colour.linear())
        };
        let all: Vec<f64> = stairs.map(far).collect();
        all.iter().sum::<f64>() / all.len() as f64
    };
    // Even steps of what is let through, by its logarithm: then finer around the best.
    let opacity = |x: f64| 1.0 - 10f64.powf(x);
    let (mut low, mut high) = (-4.0f64, -0.01f64);
    for _ in 0..8 {
        const PARTS: usize = 16;
        let at = |k: usize| low + (high - low) * k as f64 / PARTS as f64;
        let all = (0..=PARTS).map(|k| (k, off(opacity(at(k)))));
        let (best, _) = all.min_by(|a, b| a.1.total_cmp(&b.1)).unwrap_or((0, 0.0));
        (low, high) = (at(best.saturating_sub(1)), at((best + 1).min(PARTS)));
    }
    let opacity = opacity(0.5 * (low + high));
    Ok(Calibrated {
        opacity,
        mean_difference: off(opacity),
    })
}
