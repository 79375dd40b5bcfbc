//! Every call, once: its path and method stand with its handler, and the OpenAPI document is made of the same.

use super::{
    card, colouring, drawings, events, exports, jobs, laying, load, meshes, parts, plans, rack,
    rehearsal, release, runs, sending, sliced, stacking, staged, status,
};
use crate::app::AppState;
use axum::extract::DefaultBodyLimit;
use utoipa::OpenApi;
use utoipa_axum::router::{OpenApiRouter, UtoipaMethodRouterExt};
use utoipa_axum::routes;
use varichrom_core::Problem;
use varichrom_core::handover::BodyDepth;

/// Largest recipe, and largest desk with its picture, in bytes.
const LARGEST_RECIPE: usize = 16 * 1024 * 1024;

#[derive(OpenApi)]
#[openapi(
    info(
        title = "Varichrom",
        description = "Divide a mesh into colour regions and plan the print."
    ),
    // Types that only stand in the parameters of a call are not found by themselves.
    components(schemas(BodyDepth, Problem))
)]
struct Api;

/// All calls below `/api`, with their document.
pub(crate) fn calls() -> OpenApiRouter<AppState> {
    OpenApiRouter::with_openapi(Api::openapi())
        .routes(routes!(status::me))
        .routes(routes!(status::status))
        .routes(routes!(status::health))
        .routes(routes!(status::metrics))
        .routes(routes!(jobs::list, jobs::import))
        .routes(routes!(staged::stage))
        .routes(routes!(staged::show, staged::forget))
        .routes(routes!(drawings::show, drawings::read))
        .routes(routes!(drawings::bodies))
        .routes(routes!(drawings::model))
        .routes(routes!(drawings::of_model))
        .routes(routes!(stacking::stack))
        .routes(routes!(stacking::model))
        .routes(routes!(stacking::wedge))
        .routes(routes!(stacking::read))
        .routes(routes!(laying::flat))
        .routes(routes!(laying::lay))
        .routes(routes!(staged::assemble))
        .routes(routes!(staged::add))
        .routes(routes!(staged::revise))
        .routes(routes!(card::defects))
        .routes(routes!(card::mend_preview))
        .routes(routes!(card::split))
        .routes(routes!(jobs::delete, jobs::show))
        .routes(routes!(jobs::picture))
        .routes(routes!(jobs::bin))
        .routes(routes!(jobs::back))
        .routes(routes!(jobs::duplicate))
        .routes(routes!(jobs::shelve))
        .routes(routes!(jobs::edits, jobs::edit))
        .routes(routes!(jobs::stop_edit))
        .routes(routes!(jobs::undo))
        .routes(routes!(jobs::redo))
        .routes(routes!(meshes::mesh))
        .routes(routes!(meshes::labels))
        .routes(routes!(meshes::patches))
        .routes(routes!(meshes::divisions))
        .routes(routes!(colouring::preview))
        .routes(routes!(colouring::strays))
        .routes(routes!(colouring::steps))
        .routes(routes!(colouring::stand))
        .routes(routes!(colouring::replay).layer(DefaultBodyLimit::max(LARGEST_RECIPE)))
        .routes(
            routes!(colouring::desk, colouring::set_desk)
                .layer(DefaultBodyLimit::max(LARGEST_RECIPE)),
        )
        .routes(routes!(colouring::palettes, colouring::set_palettes))
        .routes(routes!(parts::meetings))
        .routes(routes!(parts::stop_meetings))
        .routes(routes!(parts::shared))
        .routes(routes!(parts::try_parts))
        .routes(routes!(parts::depths))
        .routes(routes!(plans::show))
        .routes(routes!(plans::stop))
        .routes(routes!(plans::start))
        .routes(routes!(plans::sheet))
        .routes(routes!(plans::snags))
        .routes(routes!(plans::snag_facets))
        .routes(routes!(plans::ways))
        .routes(routes!(plans::tried))
        .routes(routes!(plans::stop_trials))
        .routes(routes!(plans::calibrate))
        .routes(routes!(plans::known_time))
        .routes(routes!(plans::layer))
        .routes(routes!(plans::beads))
        .routes(routes!(plans::moves))
        .routes(routes!(plans::print_settings, plans::set_printing))
        .routes(routes!(plans::stop_moves))
        .routes(routes!(plans::moves_bytes))
        .routes(routes!(rehearsal::begin, rehearsal::show, rehearsal::end))
        .routes(routes!(rehearsal::answer))
        .routes(routes!(rehearsal::speed))
        .routes(routes!(rehearsal::trouble))
        .routes(routes!(rehearsal::rest))
        .routes(routes!(release::show, release::say))
        .routes(routes!(release::people, release::set_people))
        .routes(routes!(release::waiting))
        .routes(routes!(sending::send, sending::show, sending::cancel))
        .routes(routes!(sending::answer))
        .routes(routes!(sliced::begin))
        .routes(routes!(sliced::keep, sliced::list))
        .routes(routes!(sliced::show, sliced::say, sliced::forget))
        .routes(routes!(sliced::moves))
        .routes(routes!(sliced::take))
        .routes(routes!(sliced::rewrite))
        .routes(routes!(exports::bodies))
        .routes(routes!(exports::file))
        .routes(routes!(events::events))
        .routes(routes!(rack::show, rack::change))
        .routes(routes!(rack::usual))
        .routes(routes!(rack::export, rack::import))
        .routes(routes!(rack::printers, rack::change_printers))
        .routes(routes!(load::show))
        .routes(routes!(load::ask))
        .routes(routes!(load::set_key))
        .routes(routes!(load::use_loaded))
        .routes(routes!(load::mixture))
        .routes(routes!(runs::printed))
        .routes(routes!(runs::not_printed))
        .routes(routes!(runs::list))
        .routes(routes!(runs::say))
        .routes(routes!(runs::photo, runs::set_photo, runs::no_photo))
}
