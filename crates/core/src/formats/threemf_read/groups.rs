//! Property groups of the materials extension, resolved to plain colours as they are read.

use crate::colour::Colour;

/// A colour with its opacity from 0 to 1.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Paint {
    pub(super) name: String,
    pub(super) colour: Colour,
    pub(super) opacity: f64,
}

/// The properties of one group; `None` where a property has no plain colour (a picture).
pub(super) type Group = Vec<Option<Paint>>;

/// `#rrggbb` or `#rrggbbaa`.
pub(super) fn parse_colour(text: &str) -> Option<(Colour, f64)> {
    let text = text.trim();
    let (rgb, alpha) = match text.len() {
        7 => (text, "ff"),
        9 if text.is_char_boundary(7) => text.split_at(7),
        _ => return None,
    };
    let opacity = f64::from(u8::from_str_radix(alpha, 16).ok()?) / 255.0;
    Some((rgb.parse().ok()?, opacity))
}

/// The colour of base materials mixed in given shares: their mean in linear light, weighted by share.
pub(super) fn composite(base: &Group, indices: &[usize], values: &[f64]) -> Option<Paint> {
    let mut sum = [0.0; 3];
    let mut whole = 0.0;
    for (index, share) in indices.iter().zip(values) {
        let paint = base.get(*index)?.as_ref()?;
        let linear = paint.colour.linear();
        for i in 0..3 {
            sum[i] += share.max(0.0) * linear[i];
        }
        whole += share.max(0.0);
    }
    if whole <= 0.0 {
        return base.get(*indices.first()?)?.clone();
    }
    Some(Paint {
        name: String::new(),
        colour: Colour::from_linear(sum.map(|c| c / whole)),
        opacity: 1.0,
    })
}

/// How one layer of a multi-property goes over those below.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Blend {
    /// By its opacity.
    Mix,
    /// Channel by channel.
    Multiply,
}

/// Layers of paint blended from the first up (materials extension, section 5.1). Layers without a plain colour are
/// passed over.
pub(super) fn layered(layers: &[Option<Paint>], blends: &[Blend]) -> Option<Paint> {
    let mut result: Option<Paint> = None;
    for (i, layer) in layers.iter().enumerate() {
        let Some(top) = layer else { continue };
        result = Some(match result {
            None => top.clone(),
            Some(below) => {
                let blend = i.checked_sub(1).and_then(|b| blends.get(b));
                let (a, b) = (top.colour.0, below.colour.0);
                let channel = |k: usize| match blend.copied().unwrap_or(Blend::Mix) {
                    Blend::Mix => {
                        top.opacity * f64::from(a[k]) + (1.0 - top.opacity) * f64::from(b[k])
                    }
                    Blend::Multiply => f64::from(a[k]) * f64::from(b[k]) / 255.0,
                };
                Paint {
                    name: String::new(),
                    colour: Colour([0, 1, 2].map(|k| channel(k).round() as u8)),
                    opacity: 1.0,
                }
            }
        });
    }
    result
}
