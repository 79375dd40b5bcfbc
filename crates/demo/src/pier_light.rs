//! The pier light: one fused closed shell.

use super::revolve;
use varichrom_core::mesh::Mesh;

/// Facets around.
const SIDES: usize = 240;

/// How far the day bands stand proud, mm.
const PROUD_MM: f64 = 0.5;

/// Heights of the two day bands, mm.
pub(super) const BANDS: [(f64, f64); 2] = [(7.0, 14.0), (20.6, 27.2)];

/// Height of the gallery's underside, mm.
pub(super) const GALLERY_MM: f64 = 33.0;

/// Foot, tapered tower with two proud day bands, gallery with a rail, lantern, roof with a ball: 42 mm wide,
/// 59 mm tall, standing on z = 0.
pub fn pier_light() -> Mesh {
    let tower = |z: f64| 14.0 - 5.2 * (z - 3.0) / (GALLERY_MM - 3.0);
    let mut profile: Vec<(f64, f64)> = vec![(0.0, 0.0), (8.0, 0.0), (17.0, 0.0), (17.0, 1.2)];
    profile.extend([(17.0, 3.0), (tower(3.0), 3.0)]);
    let mut rise = |from: f64, to: f64, proud: f64| {
        // Upright strips of about a millimetre, so that the shell is as dense as a download.
        let steps = (to - from).round().max(1.0) as usize;
        for i in 0..=steps {
            let z = from + (to - from) * i as f64 / steps as f64;
            profile.push((tower(z) + proud, z));
        }
    };
    let mut z = 3.0;
    for (low, high) in BANDS {
        rise(z, low, 0.0);
        rise(low, high, PROUD_MM);
        z = high;
    }
    rise(z, GALLERY_MM, 0.0);
    // Gallery: a disc with a proud rail around it.
    profile.extend([
        (13.6, GALLERY_MM),
        (13.6, 34.0),
        (13.6, 35.0),
        (14.2, 35.0),
        (14.2, 36.2),
    ]);
    profile.extend([(13.0, 36.2), (13.0, 35.4), (10.0, 35.4), (6.6, 35.4)]);
    // Lantern: a plinth, the glass set back, a cornice.
    profile.extend([(6.6, 36.6), (6.0, 36.6)]);
    profile.extend((1..=8).map(|i| (6.0, 36.6 + f64::from(i))));
    profile.extend([(6.8, 44.6), (6.8, 45.4), (8.2, 45.4), (8.2, 46.2)]);
    // Roof: a cone a little hollowed, then a neck and a ball.
    profile.extend((1..=8).map(|i| {
        let t = f64::from(i) / 8.0;
        (8.2 - 7.0 * t - 0.8 * (t * (1.0 - t)), 46.2 + 7.2 * t)
    }));
    profile.extend([(1.2, 54.2)]);
    profile.extend((0..=10).map(|i| {
        let angle = (-58.0 + 148.0 * f64::from(i) / 10.0).to_radians();
        let radius = if i == 10 { 0.0 } else { 2.2 * angle.cos() };
        (radius, 56.1 + 2.2 * angle.sin())
    }));
    profile.dedup();
    revolve(&profile, SIDES)
}
