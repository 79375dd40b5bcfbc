//! Refusing edits that name places where nothing can be.

use super::super::edits::Edit;
use super::refuse;
use crate::geometry::Bounds;
use crate::{Problem, figure};

/// Furthest from the origin that an edit may name a place, mm; larger where the models are, such as in a wrong unit.
const FURTHEST_MM: f64 = 10_000.0;
/// An eye may stand this many times as far off as the furthest corner of the models.
const FURTHEST_EYE: f64 = 20.0;

/// Refuses edits that name places where nothing can be: to follow them would take for ever.
pub(super) fn check_near(edit: &Edit, bounds: &Bounds) -> Result<(), Problem> {
    /// The furthest coordinate under a name that means a place.
    fn furthest(value: &serde_json::Value, is_place: bool) -> f64 {
        const PLACES: [&str; 6] = ["point", "points", "path", "eye", "outline", "low_mm"];
        match value {
            serde_json::Value::Number(n) if is_place => n.as_f64().map_or(0.0, f64::abs),
            serde_json::Value::Array(all) => all
                .iter()
                .map(|v| furthest(v, is_place))
                .fold(0.0, f64::max),
            serde_json::Value::Object(fields) => fields
                .iter()
                // What an edit of several holds is looked at when its turn comes.
                .filter(|(name, _)| *name != "edits")
                .map(|(name, v)| furthest(v, PLACES.contains(&name.as_str())))
                .fold(0.0, f64::max),
            _ => 0.0,
        }
    }
    let value = serde_json::to_value(edit).unwrap_or_default();
    let far = furthest(&value, false);
    let corner = bounds.min.iter().chain(&bounds.max).fold(0.0, |m: f64, v| {
        if v.is_finite() { m.max(v.abs()) } else { m }
    });
    let furthest_mm = FURTHEST_MM.max(FURTHEST_EYE * corner);
    if far <= furthest_mm {
        return Ok(());
    }
    Err(refuse(
        "too-far",
        format!("A place {} m away is named", figure(far / 1000.0)),
        "at",
        &format!(
            "Name places within {:.0} m of the middle; if the model is larger, its unit may be wrong.",
            furthest_mm / 1000.0
        ),
    ))
}
