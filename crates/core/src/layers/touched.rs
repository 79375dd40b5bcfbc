//! What an edit changed of what the layers are divided by.

/// What was changed since the layers were divided.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub enum Touched {
    /// Anything.
    #[default]
    Everything,
    /// Only how deep regions go: which surface is whose stays.
    Depths,
    /// Only which region surface between two heights above the bed belongs to, mm; nothing if the lower is the higher.
    Heights((f64, f64)),
}

impl Touched {
    /// Nothing at all.
    pub const NOTHING: Touched = Touched::Heights((f64::INFINITY, f64::NEG_INFINITY));

    /// What two changes touched together.
    pub fn and(self, other: Touched) -> Touched {
        match (self, other) {
            (Touched::Heights((a, b)), Touched::Heights((c, d))) => {
                Touched::Heights((a.min(c), b.max(d)))
            }
            (Touched::Depths, Touched::Depths) => Touched::Depths,
            (Touched::Depths, Touched::NOTHING) | (Touched::NOTHING, Touched::Depths) => {
                Touched::Depths
            }
            (Touched::Everything | Touched::Depths, _)
            | (_, Touched::Everything | Touched::Depths) => Touched::Everything,
        }
    }
}
