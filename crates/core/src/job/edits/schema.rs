//! What the OpenAPI document says of an edit. Written by hand: the derived one takes every family for one that is told by its name.

use super::{
    Edit, GiveEdit, JobEdit, LoadEdit, ModelEdit, PartEdit, PlaceEdit, PlanEdit, RegionEdit,
    SlotEdit,
};
use std::borrow::Cow;
use utoipa::openapi::schema::{AllOfBuilder, ObjectBuilder, OneOfBuilder, Schema, Type};
use utoipa::openapi::{Ref, RefOr};
use utoipa::{PartialSchema, ToSchema};

impl PartialSchema for Edit {
    fn schema() -> RefOr<Schema> {
        let of = |name: Cow<'static, str>| Ref::from_schema_name(name);
        // Families whose kinds are told by `do` are told by their own name first.
        let within = |kind: &str, name: Cow<'static, str>| {
            let told = ObjectBuilder::new()
                .schema_type(Type::String)
                .enum_values(Some([kind]));
            let told = ObjectBuilder::new().property("edit", told).required("edit");
            AllOfBuilder::new().item(of(name)).item(told)
        };
        OneOfBuilder::new()
            .description(Some("One change of a job; `edit` says what it is."))
            .item(within("load", LoadEdit::name()))
            .item(within("part", PartEdit::name()))
            .item(within("plan", PlanEdit::name()))
            .item(of(ModelEdit::name()))
            .item(of(RegionEdit::name()))
            .item(of(GiveEdit::name()))
            .item(of(PlaceEdit::name()))
            .item(of(SlotEdit::name()))
            .item(of(JobEdit::name()))
            .into()
    }
}

impl ToSchema for Edit {
    fn name() -> Cow<'static, str> {
        "Edit".into()
    }

    fn schemas(schemas: &mut Vec<(String, RefOr<Schema>)>) {
        fn family<T: ToSchema>(schemas: &mut Vec<(String, RefOr<Schema>)>) {
            schemas.push((T::name().into(), T::schema()));
            T::schemas(schemas);
        }
        family::<LoadEdit>(schemas);
        family::<PartEdit>(schemas);
        family::<PlanEdit>(schemas);
        family::<ModelEdit>(schemas);
        family::<RegionEdit>(schemas);
        family::<GiveEdit>(schemas);
        family::<PlaceEdit>(schemas);
        family::<SlotEdit>(schemas);
        family::<JobEdit>(schemas);
    }
}
