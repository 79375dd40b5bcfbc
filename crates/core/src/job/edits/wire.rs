//! Reading an edit from JSON: the family is told by what `edit` says.

use super::{
    Edit, GiveEdit, JobEdit, LoadEdit, ModelEdit, PartEdit, PlaceEdit, PlanEdit, RegionEdit,
    SlotEdit,
};
use serde::de::{DeserializeOwned, Error};
use serde::{Deserialize, Deserializer};
use serde_json::{Map, Value};
use std::sync::LazyLock;
use strum::VariantNames;

/// Families whose kinds are told by `do`.
const WITHIN: [&str; 3] = ["load", "part", "plan"];

/// All that `edit` may say.
static KINDS: LazyLock<Vec<&str>> = LazyLock::new(|| {
    let families: [&[&str]; 7] = [
        &WITHIN,
        ModelEdit::VARIANTS,
        RegionEdit::VARIANTS,
        GiveEdit::VARIANTS,
        PlaceEdit::VARIANTS,
        SlotEdit::VARIANTS,
        JobEdit::VARIANTS,
    ];
    families.concat()
});

impl<'de> Deserialize<'de> for Edit {
    fn deserialize<D: Deserializer<'de>>(from: D) -> Result<Edit, D::Error> {
        let mut fields = Map::deserialize(from)?;
        let kind = match fields.get("edit") {
            Some(Value::String(kind)) => kind.clone(),
            _ => return Err(D::Error::missing_field("edit")),
        };
        let kind = kind.as_str();
        if WITHIN.contains(&kind) {
            fields.remove("edit");
        }
        let is_of = |kinds: &[&str]| kinds.contains(&kind);
        match kind {
            "load" => read::<LoadEdit, D>(fields).map(Edit::Load),
            "part" => read::<PartEdit, D>(fields).map(Edit::Part),
            "plan" => read::<PlanEdit, D>(fields).map(Edit::Plan),
            _ if is_of(ModelEdit::VARIANTS) => read::<ModelEdit, D>(fields).map(Edit::Model),
            _ if is_of(RegionEdit::VARIANTS) => read::<RegionEdit, D>(fields).map(Edit::Region),
            _ if is_of(GiveEdit::VARIANTS) => read::<GiveEdit, D>(fields).map(Edit::Give),
            _ if is_of(PlaceEdit::VARIANTS) => read::<PlaceEdit, D>(fields).map(Edit::Place),
            _ if is_of(SlotEdit::VARIANTS) => read::<SlotEdit, D>(fields).map(Edit::Slot),
            _ if is_of(JobEdit::VARIANTS) => read::<JobEdit, D>(fields).map(Edit::Job),
            _ => Err(D::Error::unknown_variant(kind, &KINDS)),
        }
    }
}

fn read<'de, T: DeserializeOwned, D: Deserializer<'de>>(
    fields: Map<String, Value>,
) -> Result<T, D::Error> {
    T::deserialize(Value::Object(fields)).map_err(D::Error::custom)
}
