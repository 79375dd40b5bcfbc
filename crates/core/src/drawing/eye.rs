//! An eye: ellipses one inside the other.

use super::flat::{Flat, Ink};
use crate::Problem;
use crate::colour::Colour;
use crate::limits::EYE;
use crate::shapes::Area;
use serde::{Deserialize, Serialize};

/// An eye of a white, an iris and a pupil.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Eye {
    /// Width of the white, mm.
    pub width_mm: f64,
    /// Height of the white, mm.
    pub height_mm: f64,
    /// Diameter of the iris, as a share of the height; none without.
    pub iris: f64,
    /// Diameter of the pupil, as a share of the height; none without.
    pub pupil: f64,
    /// Which way it looks: how far iris and pupil are off the middle to the right and up, as shares of the way to the rim.
    #[serde(default, skip_serializing_if = "crate::is_default")]
    #[cfg_attr(feature = "wire", ts(optional, as = "Option<[f64; 2]>"))]
    pub look: [f64; 2],
}

/// Corners of an ellipse: off by less than 2 µm at 20 mm.
const ROUND: usize = 128;

fn ellipse(at: [f64; 2], size: [f64; 2]) -> Area {
    let corner = |k: usize| {
        let (sin, cos) = (std::f64::consts::TAU * k as f64 / ROUND as f64).sin_cos();
        [at[0] + 0.5 * size[0] * cos, at[1] + 0.5 * size[1] * sin]
    };
    Area::of(&[(0..ROUND).map(corner).collect()])
}

impl Eye {
    /// Laid flat: the pupil upon the iris upon the white.
    ///
    /// # Errors
    /// `eye-out-of-range`.
    pub fn flat(&self) -> Result<Flat, Problem> {
        for (mm, place) in [(self.width_mm, "width_mm"), (self.height_mm, "height_mm")] {
            EYE.check(mm, place, |v| format!("An eye cannot be {v} large"))?;
        }
        let share = |v: f64| {
            if v.is_finite() {
                v.clamp(0.0, 2.0)
            } else {
                0.0
            }
        };
        let size = [self.width_mm, self.height_mm];
        let middle = size.map(|s| 0.5 * s);
        let white = ellipse(middle, size);
        let look = self.look.map(|v| {
            if v.is_finite() {
                v.clamp(-1.0, 1.0)
            } else {
                0.0
            }
        });
        let disc = |of: f64| {
            let d = share(of) * self.height_mm;
            let room = [0, 1].map(|i| (0.5 * (size[i] - d)).max(0.0));
            let at = [0, 1].map(|i| middle[i] + look[i] * room[i]);
            match d > 0.0 {
                true => ellipse(at, [d, d]).and(&white),
                false => Area::default(),
            }
        };
        let (iris, pupil) = (disc(self.iris), disc(self.pupil));
        let (pupil, iris) = (pupil.clone(), iris.minus(&pupil));
        let rest = white.minus(&iris).minus(&pupil);
        let ink = |name: &str, colour: [u8; 3], area: Area| Ink {
            name: name.into(),
            colour: Colour(colour),
            area,
        };
        let inks = vec![
            ink("White of the eye", [0xf2, 0xf0, 0xea], rest),
            ink("Iris", [0x4a, 0x6f, 0x8f], iris),
            ink("Pupil", [0x1a, 0x1a, 0x1c], pupil),
        ];
        Ok(Flat {
            size_mm: size,
            inks,
            notes: Vec::new(),
        })
    }
}
