//! The job that its edits make when a model's file, or the numbers of a step, are others than they were.

use super::copying::names_of_copies;
use super::edits::{Edit, JobEdit, ModelEdit};
use super::history::Models;
use super::state::{Job, LostEdit};
use crate::Problem;
use std::collections::HashMap;

/// The job that some edits make when the file of one model is another. Edits that no longer find their place are left
/// out and listed.
pub(super) fn revised(edits: &[Edit], last: &Edit, models: &dyn Models) -> Result<Job, Problem> {
    // By which edit each model of the present name was opened, and which file it has now.
    let mut opened: Vec<(String, usize)> = Vec::new();
    let mut files: HashMap<usize, (&String, &String)> = HashMap::new();
    for (index, edit) in edits.iter().chain([last]).enumerate() {
        let known = |name: &str| opened.iter().position(|(n, _)| n == name);
        match edit {
            Edit::Model(ModelEdit::OpenModel { model, .. }) => {
                opened.push((model.trim().to_string(), index))
            }
            // What a copy was made of is replaced with it.
            Edit::Model(ModelEdit::CopyModel { model, count, .. }) => {
                if let Some(at) = known(model) {
                    let first = opened[at].1;
                    let names = names_of_copies(model, *count, &|name| known(name).is_some());
                    opened.extend(names.into_iter().map(|name| (name, first)));
                }
            }
            Edit::Model(ModelEdit::RenameModel { model, name }) => {
                if let Some(at) = known(model) {
                    opened[at].0 = name.trim().to_string();
                }
            }
            Edit::Model(ModelEdit::RemoveModel { model }) => opened.retain(|(n, _)| n != model),
            Edit::Model(ModelEdit::ReviseModel {
                model,
                file,
                content,
            }) => {
                let at = known(model).ok_or_else(|| {
                    let message = format!("There is no model called {model}");
                    let mend = "Use the name of one of the job's models.";
                    Problem::new("model-unknown", message, "model", mend)
                })?;
                files.insert(opened[at].1, (file, content));
            }
            _ => {}
        }
    }
    let changed = changed_edits(edits, [last])?;
    let mut job = Job::default();
    let mut lost = Vec::new();
    for (index, edit) in edits.iter().enumerate() {
        let change = changed.get(&index);
        let edit = match change {
            Some(Some(change)) => change,
            Some(None) => continue,
            None => edit,
        };
        if edit.takes_all_before() {
            continue;
        }
        let done = match (edit, files.get(&index)) {
            (Edit::Model(ModelEdit::OpenModel { model, .. }), Some((file, content))) => {
                let edit = Edit::Model(ModelEdit::OpenModel {
                    model: model.clone(),
                    file: (*file).clone(),
                    content: (*content).clone(),
                });
                // Without the new file there is nothing to go on with.
                job.apply(&edit, models)?;
                continue;
            }
            _ => job.apply(edit, models),
        };
        if let Err(why) = done {
            if why.is_stopped() {
                return Err(why);
            }
            // New numbers that cannot be used are refused, not lost.
            if change.is_some()
                && matches!(last, Edit::Job(JobEdit::ChangeEdit { number, .. }) if *number as usize == index + 1)
            {
                return Err(why);
            }
            lost.push(LostEdit {
                number: index as u32 + 1,
                what: edit.in_words(&|key| job.name_of(key)),
                at: edit.point(),
                why,
            });
        }
    }
    job.lost = lost;
    Ok(job)
}

/// By index: edits that have been given other numbers since; none for those that were taken out.
pub(super) fn changed_edits<'a>(
    edits: &'a [Edit],
    last: impl IntoIterator<Item = &'a Edit>,
) -> Result<HashMap<usize, Option<&'a Edit>>, Problem> {
    let mut changed: HashMap<usize, Option<&Edit>> = HashMap::new();
    for edit in edits.iter().chain(last) {
        let (number, to) = match edit {
            Edit::Job(JobEdit::ChangeEdit { number, to }) => (number, Some(&**to)),
            Edit::Job(JobEdit::LeaveOut { number }) => (number, None),
            _ => continue,
        };
        let index = (*number as usize).wrapping_sub(1);
        let refuse = |code: &str, message: String| {
            let mend = "Choose a step of the list whose numbers can be changed.";
            Err(Problem::new(code, message, "number", mend))
        };
        let Some(old) = edits.get(index) else {
            return refuse("step-unknown", format!("There is no step {number}"));
        };
        let is_opening = matches!(old, Edit::Model(ModelEdit::OpenModel { .. }));
        let is_whole = is_opening || old.takes_all_before();
        if to.is_none() && (is_whole || changed.get(&index) == Some(&None)) {
            return refuse("step-stays", format!("Step {number} cannot be taken out"));
        }
        if to.is_some_and(|to| is_whole || old.kind() != to.kind()) {
            return refuse(
                "step-of-another-kind",
                format!("Step {number} cannot become something of another kind"),
            );
        }
        changed.insert(index, to);
    }
    Ok(changed)
}
