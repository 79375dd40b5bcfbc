//! A recipe: models, edits, printer and spools in one JSON file, replayed without a browser.

use super::edits::{Edit, JobEdit, ModelEdit, SlotEdit};
use crate::Problem;
use crate::machine::{Printer, Spool};
use serde::{Deserialize, Serialize};

/// A job that can be replayed from the command line. Unknown fields are refused.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Recipe {
    /// Name of the job.
    pub name: String,
    /// Models to open first, in order.
    pub models: Vec<RecipeModel>,
    /// The printer; left out, the generic four-slot feeder.
    #[serde(default)]
    pub printer: Printer,
    /// Spools that `load-slot` edits name.
    #[serde(default)]
    pub spools: Vec<Spool>,
    /// Edits in order, after the models are open and the printer is set.
    #[serde(default)]
    pub edits: Vec<Edit>,
}

/// A model of a recipe.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct RecipeModel {
    /// Name by which edits call it.
    pub model: String,
    /// File, relative to the recipe.
    pub file: String,
}

impl Recipe {
    /// Reads a recipe, or a bare list of edits.
    ///
    /// # Errors
    /// `recipe-not-readable` with line and column, for text that is not JSON, unknown fields, missing fields and
    /// values of the wrong kind; or the first value out of range.
    pub fn from_json(bytes: &[u8]) -> Result<Recipe, Problem> {
        let is_list = bytes.iter().find(|b| !b.is_ascii_whitespace()) == Some(&b'[');
        let read = match is_list {
            true => serde_json::from_slice(bytes).map(Recipe::of_edits),
            false => serde_json::from_slice(bytes),
        };
        let recipe: Recipe = read.map_err(|e| {
            let what = e.to_string();
            let what = what
                .split(" at line ")
                .next()
                .unwrap_or_default()
                .to_string();
            Problem::new(
                "recipe-not-readable",
                format!("The recipe cannot be read: {what}"),
                format!("line {}, column {}", e.line(), e.column()),
                "Correct it there; docs/recipes.md lists every field.",
            )
        })?;
        for spool in &recipe.spools {
            spool.check()?;
        }
        Ok(recipe)
    }

    /// A recipe of the bare edits of a job, as Handover writes them: those that opened its models become its models.
    fn of_edits(edits: Vec<Edit>) -> Recipe {
        let mut recipe = Recipe {
            name: "Edits".into(),
            models: Vec::new(),
            printer: Printer::default(),
            spools: Vec::new(),
            edits: Vec::new(),
        };
        for edit in edits {
            match edit {
                Edit::Job(JobEdit::RenameJob { name }) => recipe.name = name,
                Edit::Model(ModelEdit::OpenModel { model, file, .. })
                    if recipe.edits.is_empty() =>
                {
                    recipe.models.push(RecipeModel { model, file });
                }
                other => recipe.edits.push(other),
            }
        }
        recipe
    }

    /// The edits alone, those that open its models before them: what [`Recipe::from_json`] takes as well.
    pub fn bare(&self) -> Vec<Edit> {
        let mut edits = self.opening();
        edits.extend(self.edits.iter().cloned());
        edits
    }

    fn opening(&self) -> Vec<Edit> {
        let name = self.name.clone();
        let models = self.models.iter().map(|m| {
            Edit::Model(ModelEdit::OpenModel {
                model: m.model.clone(),
                file: m.file.clone(),
                content: m.file.clone(),
            })
        });
        std::iter::once(Edit::Job(JobEdit::RenameJob { name }))
            .chain(models)
            .collect()
    }

    /// All edits of the recipe, its models and printer included.
    pub fn all_edits(&self) -> Vec<Edit> {
        let mut edits = self.opening();
        edits.push(Edit::Slot(SlotEdit::SetPrinter {
            printer: self.printer.clone(),
        }));
        edits.extend(self.edits.iter().cloned());
        edits
    }
}
