//! How a drawing lies on a model: from where it is thrown onto it, or around which axis it is wound.

use crate::Problem;
use crate::geometry::{cross, dot, facet_normal, length, normalised, sub};
use serde::{Deserialize, Serialize};
use std::f64::consts::TAU;

/// Where a drawing lies on a model.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Laying {
    /// Where its middle lies, mm.
    pub at: [f64; 3],
    /// How it comes onto the surface.
    pub on: LaidOn,
    /// How far it is turned, degrees, counter-clockwise as it is looked at.
    #[serde(default, skip_serializing_if = "crate::is_default")]
    #[cfg_attr(feature = "wire", ts(optional, as = "Option<f64>"))]
    pub turn_deg: f64,
    /// Whether left and right are exchanged.
    #[serde(default, skip_serializing_if = "crate::is_default")]
    #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
    pub mirrored: bool,
}

/// How a drawing comes onto the surface.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "how", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum LaidOn {
    /// Thrown straight onto it.
    Flat {
        /// Towards whoever looks at it: the way the surface faces, or against the view.
        facing: [f64; 3],
        /// Which way is up in the drawing; left out, upright where the surface stands, and away from the front on what lies.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        up: Option<[f64; 3]>,
        /// Whether it goes on to whatever lies behind, and to what faces away.
        #[serde(default, skip_serializing_if = "crate::is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        through: bool,
    },
    /// Wound around an axis, true to size as far from it as its middle lies.
    Around {
        /// A place on the axis, mm.
        centre: [f64; 3],
        /// Along the axis, upward in the drawing.
        axis: [f64; 3],
    },
}

/// The same with its axes at right angles and of length 1.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Frame {
    at: [f64; 3],
    /// Right, up and into the model; around an axis: where from, along it, and at right angles.
    axes: [[f64; 3]; 3],
    /// Around an axis: how far from it the drawing has its size.
    radius: Option<f64>,
    through: bool,
}

/// Surface that is seen more aslant than this (cosine) is left alone: a drawing would be smeared along it.
const STEEPEST: f64 = 0.05;

/// How far the eye is, mm: outside of everything.
const FAR_MM: f64 = 2e4;

/// Nearer to its axis a drawing cannot be wound, mm.
const LEAST_RADIUS_MM: f64 = 0.1;

impl Laying {
    /// The frame of it.
    ///
    /// # Errors
    /// `laying-place` for a place that is none, or on the axis; `laying-axes` for directions that make no frame.
    pub(crate) fn frame(&self) -> Result<Frame, Problem> {
        let refused = |code: &str, what: &str, place: &str, mend: &str| {
            Err(Problem::new(code, what, place, mend))
        };
        let is_place = |p: &[f64; 3]| p.iter().all(|c| c.is_finite() && c.abs() < FAR_MM);
        let unit = |v: &[f64; 3]| {
            let is_sound = v.iter().all(|c| c.is_finite() && c.abs() < 1e9);
            is_sound.then(|| unit_of(*v)).flatten()
        };
        if !is_place(&self.at) || !self.turn_deg.is_finite() {
            let what = "There is no such place for a drawing";
            return refused("laying-place", what, "at", "Click on the model.");
        }
        let none = |place: &str| {
            let what = "These directions do not say how the drawing lies";
            refused("laying-axes", what, place, "Click on the model once more.")
        };
        match &self.on {
            LaidOn::Flat {
                facing,
                up,
                through,
            } => {
                let Some(facing) = unit(facing) else {
                    return none("facing");
                };
                let asked = match up {
                    Some(up) => unit(up),
                    None => upright(facing),
                };
                let Some(right) = asked.and_then(|up| unit_of(cross(up, facing))) else {
                    return none("up");
                };
                let up = cross(facing, right);
                Ok(Frame {
                    at: self.at,
                    axes: [right, up, facing.map(|v| -v)],
                    radius: None,
                    through: *through,
                })
            }
            LaidOn::Around { centre, axis } => {
                let (Some(axis), true) = (unit(axis), is_place(centre)) else {
                    return none("axis");
                };
                let from = sub(self.at, *centre);
                let along = dot(from, axis);
                let away = [0, 1, 2].map(|i| from[i] - along * axis[i]);
                let radius = length(away);
                if radius < LEAST_RADIUS_MM {
                    let what = "The drawing would lie on the axis it is wound around";
                    let mend = "Click on a place away from the axis.";
                    return refused("laying-place", what, "at", mend);
                }
                let out = away.map(|v| v / radius);
                Ok(Frame {
                    at: [0, 1, 2].map(|i| centre[i] + along * axis[i]),
                    axes: [out, axis, cross(axis, out)],
                    radius: Some(radius),
                    through: false,
                })
            }
        }
    }

    /// From the frame, mm from the drawing's middle, to its page.
    pub(crate) fn on_page(&self, size_mm: [f64; 2]) -> Turn {
        Turn {
            sin_cos: self.turn_deg.to_radians().sin_cos(),
            mirrored: self.mirrored,
            middle: size_mm.map(|s| 0.5 * s),
        }
    }
}

/// Between what is laid, mm from its middle, and the page it is drawn on.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Turn {
    sin_cos: (f64, f64),
    mirrored: bool,
    middle: [f64; 2],
}

impl Turn {
    /// Laid as it is drawn.
    pub(crate) const NONE: Turn = Turn {
        sin_cos: (0.0, 1.0),
        mirrored: false,
        middle: [0.0; 2],
    };

    /// Where a point of the page is laid.
    pub(crate) fn laid(&self, p: [f64; 2]) -> [f64; 2] {
        let (sin, cos) = self.sin_cos;
        let x = p[0] - self.middle[0];
        let (x, y) = (if self.mirrored { -x } else { x }, p[1] - self.middle[1]);
        [cos * x - sin * y, sin * x + cos * y]
    }
}

/// Which way is up on a surface.
fn upright(facing: [f64; 3]) -> Option<[f64; 3]> {
    const LIES: f64 = 0.999;
    Some(if facing[2].abs() > LIES {
        [0.0, 1.0, 0.0]
    } else {
        [0.0, 0.0, 1.0]
    })
}

/// Of length 1, unless it is next to nothing.
fn unit_of(v: [f64; 3]) -> Option<[f64; 3]> {
    (length(v) > 1e-6).then(|| normalised(v)).flatten()
}

impl Frame {
    /// Where a place in space is in the drawing, mm from its middle to the right and up.
    pub(crate) fn flat(&self, p: [f64; 3]) -> [f64; 2] {
        let d = sub(p, self.at);
        let [x, y, z] = self.axes.map(|a| dot(a, d));
        match self.radius {
            None => [x, y],
            Some(radius) => [radius * z.atan2(x), y],
        }
    }

    /// Right, up and into the model, where it is thrown straight.
    pub(crate) fn flat_axes(&self) -> Option<[[f64; 3]; 3]> {
        self.radius.is_none().then_some(self.axes)
    }

    /// After what length to the right the drawing comes to the same place.
    pub(crate) fn period(&self) -> Option<f64> {
        self.radius.map(|r| r * TAU)
    }

    /// The place in a facet's plane on which a point of the drawing falls; none if it never meets it.
    pub(crate) fn on_plane(&self, q: [f64; 2], corners: &[[f64; 3]; 3]) -> Option<[f64; 3]> {
        let normal = facet_normal(corners)?;
        let (from, way) = match self.radius {
            None => {
                let [right, up, into] = self.axes;
                let from = [0, 1, 2].map(|i| self.at[i] + q[0] * right[i] + q[1] * up[i]);
                (from, into)
            }
            Some(radius) => {
                let [out, axis, aside] = self.axes;
                let (sin, cos) = (q[0] / radius).sin_cos();
                let from = [0, 1, 2].map(|i| self.at[i] + q[1] * axis[i]);
                (from, [0, 1, 2].map(|i| cos * out[i] + sin * aside[i]))
            }
        };
        let falls = dot(normal, way);
        if falls.abs() < 1e-9 {
            return None;
        }
        let far = dot(normal, sub(corners[0], from)) / falls;
        if self.radius.is_some() && far <= 0.0 {
            return None;
        }
        Some([0, 1, 2].map(|i| from[i] + far * way[i]))
    }

    /// Against which direction a place looks at the eye.
    fn towards(&self, p: [f64; 3]) -> Option<[f64; 3]> {
        match self.radius {
            None => Some(self.axes[2].map(|v| -v)),
            Some(_) => {
                let d = sub(p, self.at);
                let [out, _, aside] = self.axes;
                let (x, z) = (dot(out, d), dot(aside, d));
                normalised([0, 1, 2].map(|i| x * out[i] + z * aside[i]))
            }
        }
    }

    /// Whether a facet looks enough towards the eye to be drawn on.
    pub(crate) fn faces(&self, corners: &[[f64; 3]; 3]) -> bool {
        let middle = crate::geometry::middle(corners);
        let (Some(normal), Some(towards)) = (facet_normal(corners), self.towards(middle)) else {
            return false;
        };
        let cosine = dot(normal, towards);
        if self.through {
            cosine.abs() > STEEPEST
        } else {
            cosine > STEEPEST
        }
    }

    /// From where a place is looked at; none where it goes through.
    pub(crate) fn eye(&self, p: [f64; 3]) -> Option<[f64; 3]> {
        if self.through {
            return None;
        }
        let towards = self.towards(p)?;
        Some([0, 1, 2].map(|i| p[i] + FAR_MM * towards[i]))
    }
}
