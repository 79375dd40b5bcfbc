//! What the maker's rules ask of a layer, and what is said when they cannot be kept.

use super::print::Print;
use crate::Problem;
use crate::order::{OrderError, Turn};
use crate::rules::OrderRule;

/// What a rule asks in a layer: slots that print before others.
pub(super) fn asked(
    print: &Print<'_>,
    rule: &OrderRule,
    layer: usize,
    used: &[u8],
) -> Vec<(u8, u8)> {
    let all_but = |slot: u8| used.iter().copied().filter(move |s| *s != slot);
    match rule {
        OrderRule::PaleFirst {} if layer == 0 => {
            let lightness = |slot: &u8| print.filaments[*slot as usize].pigment.colour.lab()[0];
            let mut pale: Vec<u8> = used.to_vec();
            pale.sort_by(|a, b| lightness(b).total_cmp(&lightness(a)).then(a.cmp(b)));
            pale.windows(2).map(|w| (w[0], w[1])).collect()
        }
        OrderRule::PaleFirst {} => Vec::new(),
        OrderRule::First { slot } if used.contains(&(slot - 1)) => {
            all_but(slot - 1).map(|s| (slot - 1, s)).collect()
        }
        OrderRule::Last { slot } if used.contains(&(slot - 1)) => {
            all_but(slot - 1).map(|s| (s, slot - 1)).collect()
        }
        OrderRule::First { .. } | OrderRule::Last { .. } => Vec::new(),
        OrderRule::Before { region, then } => {
            // Regions that were deleted since ask for nothing.
            let (Some(a), Some(b)) = (print.task.region(region), print.task.region(then)) else {
                return Vec::new();
            };
            let is_here = |n: u16| print.shares[layer].regions[n as usize].area_mm2 > 0.0;
            let (first, last) = (print.slot_of[a as usize], print.slot_of[b as usize]);
            if first != last && is_here(a) && is_here(b) {
                vec![(first, last)]
            } else {
                Vec::new()
            }
        }
    }
}

/// Why there is no order, in words.
pub(super) fn refused(print: &Print<'_>, turns: &[Turn], error: OrderError) -> Problem {
    match error {
        OrderError::TooManySlots { layer, slots } => Problem::new(
            "too-many-slots",
            format!(
                "Layer {} uses {slots} slots; up to 16 can be put in order",
                layer + 1
            ),
            format!("layer {}", layer + 1),
            "Give some regions the same slot.",
        ),
        OrderError::Contradiction { layer, ring } => {
            let used = &turns[layer].slots;
            // Which rule asks for each step of the ring.
            let asks: Vec<String> = (0..ring.len())
                .filter_map(|i| {
                    let pair = (ring[i], ring[(i + 1) % ring.len()]);
                    let rule = print
                        .task
                        .rules
                        .order
                        .iter()
                        .find(|r| asked(print, r, layer, used).contains(&pair))?;
                    Some(in_words(print, rule))
                })
                .collect();
            Problem::new(
                "rules-contradict",
                format!(
                    "In layer {} the rules of the order cannot all be kept: {}",
                    layer + 1,
                    asks.join("; but ")
                ),
                format!("layer {}", layer + 1),
                "Take one of these rules away, under Order.",
            )
        }
    }
}

fn in_words(print: &Print<'_>, rule: &OrderRule) -> String {
    let name = |key: &str| print.task.name_of(key);
    match rule {
        OrderRule::PaleFirst {} => "pale goes before dark on the first layer".into(),
        OrderRule::First { slot } => format!("{} always goes first", print.word(slot - 1)),
        OrderRule::Last { slot } => format!("{} always goes last", print.word(slot - 1)),
        OrderRule::Before { region, then } => {
            format!("{} goes before {}", name(region), name(then))
        }
    }
}
