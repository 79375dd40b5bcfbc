//! The region of every facet, and of every triangle of those that are divided.

use super::divided::Divided;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::ops::Range;
use std::sync::Arc;

/// Number of the region that covers a piece of surface; `None` is the part's own.
pub type Label = Option<u16>;

/// Stands in the list of whole facets for one that is divided. No region has this number.
const DIVIDED: Label = Some(u16::MAX);

/// What a facet has: one label, or a division.
#[derive(Debug, Clone, PartialEq)]
pub enum Held {
    /// One label all over.
    Whole(Label),
    /// Several.
    Divided(Arc<Divided>),
}

/// Labels of all facets of a model.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct Labels {
    whole: Vec<Label>,
    divided: BTreeMap<u32, Arc<Divided>>,
}

impl Labels {
    /// Labels of a model on which nothing is covered yet.
    pub fn plain(facets: usize) -> Labels {
        Labels::of(vec![None; facets])
    }

    /// Labels of whole facets.
    pub fn of(whole: Vec<Label>) -> Labels {
        Labels {
            whole,
            divided: BTreeMap::new(),
        }
    }

    /// Number of facets.
    pub fn len(&self) -> usize {
        self.whole.len()
    }

    /// Whether there are no facets.
    pub fn is_empty(&self) -> bool {
        self.whole.is_empty()
    }

    /// Whether nothing is covered.
    pub fn is_plain(&self) -> bool {
        self.whole.iter().all(Option::is_none)
    }

    /// Facets that are covered, wholly or in part.
    pub fn covered(&self) -> usize {
        self.whole.iter().flatten().count()
    }

    /// What a facet has.
    pub fn held(&self, facet: u32) -> Held {
        match self.division(facet) {
            Some(divided) => Held::Divided(divided.clone()),
            None => Held::Whole(self.whole[facet as usize]),
        }
    }

    /// How a facet is divided, if it is. Constant time for those that are not.
    pub fn division(&self, facet: u32) -> Option<&Arc<Divided>> {
        if self.whole[facet as usize] != DIVIDED {
            return None;
        }
        self.divided.get(&facet)
    }

    /// The label of a facet that is not divided.
    pub fn whole(&self, facet: u32) -> Option<Label> {
        let label = self.whole[facet as usize];
        (label != DIVIDED).then_some(label)
    }

    /// The label at a place on a facet: shares of its edges from corner 0 to corners 1 and 2.
    pub fn at(&self, facet: u32, shares: [f64; 2]) -> Label {
        match self.division(facet) {
            Some(divided) => divided.labels[divided.triangle_at(shares)],
            None => self.whole[facet as usize],
        }
    }

    /// Gives a facet something else; returns what it had.
    pub fn put(&mut self, facet: u32, held: Held) -> Held {
        let before = self.held(facet);
        match held {
            Held::Whole(label) => {
                self.divided.remove(&facet);
                self.whole[facet as usize] = label;
            }
            Held::Divided(divided) => {
                self.whole[facet as usize] = DIVIDED;
                self.divided.insert(facet, divided);
            }
        }
        before
    }

    /// The divided facets, ascending.
    pub fn divisions(&self) -> impl Iterator<Item = (u32, &Arc<Divided>)> {
        self.divided.iter().map(|(f, d)| (*f, d))
    }

    /// Visits every label with its facet and the share of the facet's area that has it.
    pub fn each(&self, visit: impl FnMut(u32, f64, Label)) {
        self.each_of(0..self.whole.len() as u32, visit);
    }

    /// The same for some facets.
    pub fn each_of(&self, facets: Range<u32>, mut visit: impl FnMut(u32, f64, Label)) {
        let whole = &self.whole[facets.start as usize..facets.end as usize];
        for (facet, label) in facets.clone().zip(whole) {
            if *label != DIVIDED {
                visit(facet, 1.0, *label);
            }
        }
        for (facet, divided) in self.divided.range(facets) {
            for (triangle, label) in divided.triangles.iter().zip(&divided.labels) {
                let [a, b, c] = triangle.map(|s| divided.spots[s as usize].shares());
                let share = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
                visit(*facet, share, *label);
            }
        }
    }
}
