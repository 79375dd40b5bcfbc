//! The Varichrom web server: routes → services → store, and the embedded front end.

mod app;
mod assets;
mod error;
mod extract;
mod guard;
mod routes;
mod services;
mod stand_in;
mod store;
mod wire;

pub use app::{Config, bind, openapi_json, router, serve};
pub use error::ApiError;
pub use services::{Turns, Workshop};
pub use stand_in::{Mood, serve_stand_in, stand_in};
pub use wire::{
    JobEvent, JobSummary, JobView, LayerView, ModelView, PartView, PlaceView, PlanView, RegionView,
    SlotView, export_types,
};
