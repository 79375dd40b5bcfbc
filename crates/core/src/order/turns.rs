//! What every layer asks of the order, and what comes of it.

/// Cost of a swap: `cost[from][to]`, not negative, for slots numbered from 0.
pub type CostTable = Vec<Vec<f64>>;

/// One layer: the slots it uses, each once, and what is asked of their order.
#[derive(Debug, Clone, Default, PartialEq, Eq, Hash)]
pub struct Turn {
    /// Slots from 0, ascending; may be empty.
    pub slots: Vec<u8>,
    /// Which cost table holds for swaps to a slot in this layer.
    pub table: usize,
    /// Pairs of slots of which the first prints before the second, ascending. Pairs with a slot that the layer does not use
    /// are ignored.
    pub before: Vec<(u8, u8)>,
}

impl Turn {
    /// For each slot of the layer, as a mask of places in `slots`, those that have to print before it.
    pub(super) fn masks(&self) -> Vec<u32> {
        let place = |slot: u8| self.slots.iter().position(|s| *s == slot);
        let mut masks = vec![0u32; self.slots.len()];
        for (first, then) in &self.before {
            if let (Some(first), Some(then)) = (place(*first), place(*then)) {
                masks[then] |= 1 << first;
            }
        }
        masks
    }

    /// Slots that wait for one another in a ring, so that none of them can be first; none if the pairs can be met.
    pub(super) fn ring(&self) -> Option<Vec<u8>> {
        let masks = self.masks();
        let mut left: u32 = (0..masks.len()).map(|i| 1 << i).sum();
        while let Some(free) =
            (0..masks.len()).find(|i| left >> i & 1 == 1 && masks[*i] & left == 0)
        {
            left &= !(1 << free);
        }
        if left == 0 {
            return None;
        }
        // Everything left waits for something left: following that must come back to where it was.
        let mut seen = Vec::new();
        let mut at = left.trailing_zeros() as usize;
        while !seen.contains(&at) {
            seen.push(at);
            at = (masks[at] & left).trailing_zeros() as usize;
        }
        let start = seen.iter().position(|s| *s == at).unwrap_or(0);
        let mut ring: Vec<u8> = seen[start..].iter().map(|i| self.slots[*i]).collect();
        ring.reverse();
        Some(ring)
    }
}

/// An order for every layer, and what it costs.
#[derive(Debug, Clone, PartialEq)]
pub struct Order {
    /// For each layer its slots in printing order.
    pub layers: Vec<Vec<u8>>,
    /// Sum of the costs of all swaps, in the unit of the cost tables.
    pub cost: f64,
}

/// Why no order was worked out.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum OrderError {
    /// A layer with more slots than the exact method can hold.
    #[error("layer {layer} uses {slots} slots; at most 16 can be ordered exactly")]
    TooManySlots {
        /// Index of the layer, from 0.
        layer: usize,
        /// Slots it uses.
        slots: usize,
    },
    /// Pairs that cannot all be met.
    #[error("slots of layer {layer} wait for one another")]
    Contradiction {
        /// Index of the first such layer, from 0.
        layer: usize,
        /// The slots, each asked to print before the next, and the last before the first.
        ring: Vec<u8>,
    },
}
