//! The front end is built into the server: whenever its build changes, the server is built anew.

fn main() {
    println!("cargo:rerun-if-changed=../../web/dist");
    println!("cargo:rerun-if-changed=migrations");
}
