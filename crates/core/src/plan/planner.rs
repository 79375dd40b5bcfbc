//! Layers that are kept from one plan to the next, so that an edit works only on what it changed.

use crate::layers::{
    Claims, Deep, LayerFaces, LayerShare, Shape, Stopped, Survey, Touched, faces_of, label_all,
    label_between, survey_after,
};
use std::ops::Range;
use std::sync::Arc;

/// The layers of a job as they were last surveyed and divided, and what has changed since.
///
/// A copy shares what it holds with the first, so that an edit can be tried on it.
#[derive(Clone, Default)]
pub struct Planner {
    survey: Option<Arc<Survey>>,
    /// How the layers of that survey were divided last.
    shares: Option<Arc<Vec<LayerShare>>>,
    /// Whose surface is nearest deep inside that survey, if it was ever asked.
    deep: Option<Arc<Deep>>,
    /// What was changed since that look.
    touched_deep: Touched,
    touched: Touched,
}

impl Planner {
    /// The survey at hand.
    pub fn survey(&self) -> Option<&Arc<Survey>> {
        self.survey.as_ref()
    }

    /// The layers as they were divided last; none before the first time, and after another survey.
    pub fn shares(&self) -> Option<&Arc<Vec<LayerShare>>> {
        self.shares.as_ref()
    }

    /// Notes what was changed, so that no other layer is divided anew.
    pub fn touch(&mut self, touched: Touched) {
        self.touched = self.touched.and(touched);
        if touched != Touched::Depths {
            self.touched_deep = self.touched_deep.and(touched);
        }
    }

    /// Surveys a shape, unless the survey at hand is of it. `progress` is told the finished share and says whether to go on.
    ///
    /// # Errors
    /// [`Stopped`] if `progress` said so; what is at hand stays.
    ///
    /// # Cost
    /// A comparison of the bodies if the survey fits, else that of [`survey_after`].
    pub fn look(
        &mut self,
        shape: Shape,
        progress: &(dyn Fn(f64) -> bool + Sync),
    ) -> Result<Arc<Survey>, Stopped> {
        if let Some(survey) = self.survey.as_ref().filter(|s| s.fits(&shape)) {
            return Ok(survey.clone());
        }
        let before = self.survey.as_deref();
        let found = Arc::new(survey_after(before, shape, progress)?);
        self.take(found.clone());
        Ok(found)
    }

    /// Takes a survey that was made elsewhere.
    pub fn take(&mut self, survey: Arc<Survey>) {
        self.survey = Some(survey);
        self.shares = None;
        self.deep = None;
    }

    /// Divides the layers of the survey at hand among regions: those that were touched, or all if there is none of before.
    ///
    /// # Errors
    /// [`Stopped`] if `go_on` said so; what is at hand stays.
    ///
    /// # Panics
    /// Before the first survey.
    pub fn divide(
        &mut self,
        claims: &Claims<'_>,
        go_on: &(dyn Fn() -> bool + Sync),
    ) -> Result<Arc<Vec<LayerShare>>, Stopped> {
        let survey = self.survey.clone().expect("surveyed before divided");
        let deep = match claims.goes_deep() {
            true => Some(self.look_deep(&survey, claims, go_on)?),
            false => None,
        };
        let deep = deep.as_ref().map(|(deep, changed)| (&**deep, &changed[..]));
        let regions = claims.soak_mm.len();
        let before = self.shares.take().filter(|shares| {
            let first = shares.first();
            first.is_none_or(|layer| layer.regions.len() == regions)
        });
        let shares = match (
            before,
            std::mem::replace(&mut self.touched, Touched::NOTHING),
        ) {
            (Some(mut shares), Touched::Heights(span)) => {
                if span.0 <= span.1 || deep.is_some() {
                    label_between(
                        &survey,
                        claims,
                        deep,
                        span,
                        Arc::make_mut(&mut shares).as_mut_slice(),
                    );
                }
                shares
            }
            _ => Arc::new(label_all(&survey, claims, deep.map(|(deep, _)| deep))),
        };
        self.shares = Some(shares.clone());
        Ok(shares)
    }

    /// Looks deep inside the survey at hand, so that copies of this planner on which regions are tried right through need not.
    /// Nothing before the first survey.
    ///
    /// # Cost
    /// That of [`Deep::look`], if it has not been looked.
    ///
    /// # Errors
    /// [`Stopped`] if `go_on` said so.
    pub fn prepare_depths(
        &mut self,
        claims: &Claims<'_>,
        go_on: &(dyn Fn() -> bool + Sync),
    ) -> Result<(), Stopped> {
        match self.survey.clone() {
            Some(survey) => self.look_deep(&survey, claims, go_on).map(|_| ()),
            None => Ok(()),
        }
    }

    /// A copy on which to look deep inside while this one is told of further changes; [`Planner::take_back`] ends that. What was
    /// changed before counts as looked at: whoever looks has to do so at a job that is no older than this call.
    pub fn lend(&mut self) -> Planner {
        let lent = self.clone();
        self.deep = None;
        self.touched_deep = Touched::NOTHING;
        lent
    }

    /// Takes what a copy has found deep inside, if both are still of the same survey.
    pub fn take_back(&mut self, lent: Planner) {
        let is_same = match (&self.survey, &lent.survey) {
            (Some(own), Some(lent)) => Arc::ptr_eq(own, lent),
            _ => false,
        };
        if is_same {
            self.deep = lent.deep;
        }
    }

    /// Whether the layers can be divided with no long look deep inside: no region goes right through, or it has been looked.
    pub fn is_prepared(&self, claims: &Claims<'_>) -> bool {
        !claims.goes_deep() || self.deep.is_some()
    }

    /// Whose surface is nearest deep inside the survey at hand: looked at where it was touched since the last time.
    /// Returns as well, by layer, where that found something else than before; nothing if it is the first look.
    fn look_deep(
        &mut self,
        survey: &Survey,
        claims: &Claims<'_>,
        go_on: &(dyn Fn() -> bool + Sync),
    ) -> Result<(Arc<Deep>, Vec<bool>), Stopped> {
        // A look that is stopped leaves none: half of it would be of before.
        let touched = std::mem::replace(&mut self.touched_deep, Touched::NOTHING);
        let (deep, changed) = match (self.deep.take(), touched) {
            (Some(deep), Touched::NOTHING) => (deep, Vec::new()),
            (Some(mut deep), Touched::Heights(span)) => {
                let changed = Arc::make_mut(&mut deep).look_between(survey, claims, span, go_on)?;
                (deep, changed)
            }
            _ => (Arc::new(Deep::look(survey, claims, go_on)?), Vec::new()),
        };
        self.deep = Some(deep.clone());
        Ok((deep, changed))
    }

    /// The layers as shapes by slot; none before they are surveyed, and as long as regions go right through that have not been
    /// looked at.
    ///
    /// # Cost
    /// That of [`crate::layers::faces`].
    pub fn faces(&self, claims: &Claims<'_>) -> Option<Vec<LayerFaces>> {
        let count = self.survey.as_ref()?.heights.spans.len();
        self.faces_of(claims, 0..count)
    }

    /// As [`Planner::faces`], of some layers; those beyond the last are left out.
    pub fn faces_of(&self, claims: &Claims<'_>, layers: Range<usize>) -> Option<Vec<LayerFaces>> {
        let survey = self.survey.as_ref().filter(|_| self.is_prepared(claims))?;
        let deep = self.deep.as_deref().filter(|_| claims.goes_deep());
        let count = survey.heights.spans.len();
        let layers = layers.start.min(count)..layers.end.min(count);
        Some(faces_of(survey, claims, deep, layers))
    }

    /// Surveys and divides, as far as that is not done.
    ///
    /// # Errors
    /// As for [`Planner::look`].
    pub fn advance(
        &mut self,
        shape: Shape,
        claims: &Claims<'_>,
        progress: &(dyn Fn(f64) -> bool + Sync),
    ) -> Result<Arc<Vec<LayerShare>>, Stopped> {
        self.look(shape, progress)?;
        self.divide(claims, &|| progress(1.0))
    }
}
