//! More colours than places: which spool sits where from which layer on, with the fewest reloads by hand.
//!
//! Whoever is put out should be the one whose next use is furthest away (Belady, "A study of replacement algorithms for a
//! virtual-storage computer", IBM Systems Journal 5(2), 1966). Here a layer asks for several colours in whatever order suits,
//! so a layer with cache C and colours S costs exactly |S \ C| reloads, and what may be left in the machine after it is any
//! choice from C ∪ S with at least one of those just put in. Colours whose next use is in the same layer are not told
//! apart by Belady's rule; all choices among them are followed, which keeps the result the fewest there are.

use std::collections::HashMap;

/// One spool put in by hand in place of another.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Reload {
    /// Slot, from 0, whose spool is taken out.
    pub out: u8,
    /// Slot whose spool is put in its place.
    pub slot: u8,
}

/// Who sits in the machine.
#[derive(Debug, Clone, PartialEq)]
pub struct Reloads {
    /// Slots in the machine at the start, ascending.
    pub start: Vec<u8>,
    /// For each layer the reloads, in order; each `out` has printed by then if the layer uses it.
    pub layers: Vec<Vec<Reload>>,
    /// Whether no plan has fewer: false only if so many choices were open that some were dropped.
    pub is_proven: bool,
}

impl Reloads {
    /// How many in all.
    pub fn count(&self) -> usize {
        self.layers.iter().map(Vec::len).sum()
    }
}

/// States followed at once: more than any feeder of four places needs for eight colours.
const MOST_STATES: usize = 512;

/// A choice of what stays after a layer.
#[derive(Clone, Copy)]
struct Step {
    cost: usize,
    /// Index of the state before the layer.
    from: usize,
    machine: u32,
}

/// The fewest reloads for layers that ask for sets of slots (from 0, up to 32), in a machine of `holds` ≥ 1 places.
///
/// What is put in before the start does not count. Fixed sequences are layers of one slot each.
///
/// # Cost
/// Layers × states, where the states are the choices that are equally good by Belady's rule.
pub fn fewest_reloads(layers: &[Vec<u8>], holds: usize) -> Reloads {
    let sets: Vec<u32> = layers.iter().map(|l| mask(l)).collect();
    let next = next_uses(&sets);
    let all = sets.iter().fold(0, |all, s| all | s);
    let mut is_proven = true;
    let mut steps: Vec<Vec<Step>> = Vec::with_capacity(sets.len() + 1);
    let first = soonest(all, holds, &next[0]);
    let start = |machine: &u32| Step {
        cost: 0,
        from: 0,
        machine: *machine,
    };
    steps.push(first.iter().map(start).collect());
    for (layer, set) in sets.iter().enumerate() {
        let mut seen: HashMap<u32, Step> = HashMap::new();
        for (from, state) in steps[layer].iter().enumerate() {
            let missing = set & !state.machine;
            let cost = state.cost + missing.count_ones() as usize;
            let after = if missing == 0 {
                vec![state.machine]
            } else {
                left_in(state.machine, missing, holds, &next[layer + 1])
            };
            is_proven &= after.len() < MOST_STATES;
            for machine in after {
                let step = Step {
                    cost,
                    from,
                    machine,
                };
                let known = seen.entry(machine).or_insert(step);
                if (cost, from) < (known.cost, known.from) {
                    *known = step;
                }
            }
        }
        let mut states: Vec<Step> = seen.into_values().collect();
        states.sort_unstable_by_key(|s| (s.cost, s.machine));
        // From any state every other is reached by reloading all places: a dearer one cannot win.
        let bound = states.first().map_or(0, |s| s.cost) + holds;
        states.retain(|s| s.cost < bound);
        if states.len() > MOST_STATES {
            states.truncate(MOST_STATES);
            is_proven = false;
        }
        steps.push(states);
    }
    let mut machines = vec![0u32; sets.len() + 1];
    let mut at = 0;
    for layer in (0..=sets.len()).rev() {
        let Some(step) = steps[layer].get(at) else {
            continue;
        };
        machines[layer] = step.machine;
        at = step.from;
    }
    let layers: Vec<Vec<Reload>> = sets
        .iter()
        .zip(machines.windows(2))
        .map(|(set, m)| reloads_between(m[0], *set, m[1]))
        .collect();
    // A layer with more colours than places needs the difference whatever was before it.
    let least: usize = sets
        .iter()
        .map(|s| (s.count_ones() as usize).saturating_sub(holds))
        .sum();
    is_proven |= layers.iter().map(Vec::len).sum::<usize>() == least;
    Reloads {
        start: slots(machines[0]),
        layers,
        is_proven,
    }
}

/// The reloads of one layer that take the machine from one state to another. Each one's `out` has printed before.
fn reloads_between(before: u32, set: u32, after: u32) -> Vec<Reload> {
    let missing = set & !before;
    // Those that leave at once are put in first, so that their places are free for the others.
    let put_in = [slots(missing & !after), slots(missing & after)].concat();
    let gone = before & !after;
    let put_out = [
        slots(gone & !set),
        slots(gone & set),
        slots(missing & !after),
    ]
    .concat();
    put_out
        .into_iter()
        .zip(put_in)
        .map(|(out, slot)| Reload { out, slot })
        .collect()
}

/// For each layer, and once past the end, the layer from there on in which each slot is used next.
fn next_uses(sets: &[u32]) -> Vec<[usize; 32]> {
    let mut next = vec![[usize::MAX; 32]; sets.len() + 1];
    for layer in (0..sets.len()).rev() {
        next[layer] = next[layer + 1];
        for slot in slots(sets[layer]) {
            next[layer][slot as usize] = layer;
        }
    }
    next
}

/// All best choices of what stays in the machine after a layer for which `missing` was put in.
fn left_in(machine: u32, missing: u32, holds: usize, next: &[usize; 32]) -> Vec<u32> {
    let mut choices = soonest(machine | missing, holds, next);
    choices.retain(|c| c & missing != 0);
    if choices.is_empty() {
        // One of those just put in has to stay, though all others are wanted sooner.
        for one in soonest(missing, 1, next) {
            let others = soonest(machine, holds - 1, next);
            choices.extend(others.into_iter().map(|o| o | one));
        }
    }
    choices
}

/// All choices of so many slots whose next uses are soonest. Of slots that are never used again the lowest are taken.
fn soonest(from: u32, count: usize, next: &[usize; 32]) -> Vec<u32> {
    let mut sorted = slots(from);
    sorted.sort_by_key(|s| (next[*s as usize], *s));
    if sorted.len() <= count {
        return vec![from];
    }
    if count == 0 {
        return vec![0];
    }
    let limit = next[sorted[count - 1] as usize];
    let sure: Vec<u8> = sorted
        .iter()
        .copied()
        .filter(|s| next[*s as usize] < limit)
        .collect();
    let tied: Vec<u8> = sorted
        .iter()
        .copied()
        .filter(|s| next[*s as usize] == limit)
        .collect();
    let wanted = count - sure.len();
    let sure = mask(&sure);
    if limit == usize::MAX {
        return vec![sure | mask(&tied[..wanted])];
    }
    let mut choices = Vec::new();
    choose(&tied, wanted, sure, &mut choices);
    choices
}

/// Every way to add `count` of some slots to a mask.
fn choose(from: &[u8], count: usize, so_far: u32, out: &mut Vec<u32>) {
    if count == 0 {
        out.push(so_far);
        return;
    }
    for (i, slot) in from.iter().enumerate() {
        if from.len() - i < count || out.len() >= MOST_STATES {
            break;
        }
        choose(&from[i + 1..], count - 1, so_far | 1 << slot, out);
    }
}

fn mask(slots: &[u8]) -> u32 {
    slots.iter().fold(0, |mask, s| mask | 1 << s)
}

fn slots(mask: u32) -> Vec<u8> {
    (0..32).filter(|s| mask >> s & 1 == 1).collect()
}
