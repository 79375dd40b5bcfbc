//! The Varichrom web server: routes → services → store, and the embedded front end.

mod app;
mod assets;
mod error;
mod extract;
mod guard;
mod lock;
mod routes;
mod services;
mod serving;
mod stand_in;
mod store;
mod wire;

pub use app::{Config, bind, openapi_json, router};
pub use error::ApiError;
pub use guard::{May, Person, SHORTEST_TOKEN, read_people, token_in_address};
pub use services::{Finding, Turns, Workshop, backup, doctor, restore};
pub use serving::{Tls, make_certificate, serve};
pub use stand_in::{Mood, serve_stand_in, stand_in};
pub use wire::{
    JobEvent, JobSummary, JobView, LayerView, ModelView, PartView, PlaceView, PlanView, RegionView,
    SlotView, export_types,
};
