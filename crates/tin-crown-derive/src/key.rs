//! A field of a table: its key, and what is declared of it.

use proc_macro2::TokenStream;
use quote::{quote, quote_spanned};
use syn::spanned::Spanned;
use syn::{Error, Expr, Field, GenericArgument, Ident, LitStr, PathArguments, Result, Type};

use crate::doc::sentence;

/// A field, and what its `#[key(…)]` says.
pub struct Key {
    pub field: Ident,
    pub ty: Type,
    pub name: String,
    pub about: String,
    pub required: bool,
    pub due: bool,
    pub default: Option<String>,
    pub absent: Option<String>,
    pub range: Option<Expr>,
    pub amount: bool,
    pub text: Option<String>,
    pub flatten: bool,
    pub hides: Vec<String>,
    pub whole: bool,
    pub set: Option<String>,
    pub flag: bool,
}

impl Key {
    pub fn parse(field: &Field) -> Result<Key> {
        let Some(ident) = field.ident.clone() else {
            return Err(Error::new(field.span(), "a table has named fields"));
        };
        let mut key = Key {
            name: ident.to_string(),
            field: ident,
            ty: ungrouped(&field.ty).clone(),
            about: sentence(&field.attrs),
            required: false,
            due: false,
            default: None,
            absent: None,
            range: None,
            amount: false,
            text: None,
            flatten: false,
            hides: Vec::new(),
            whole: false,
            set: None,
            flag: false,
        };
        for attribute in &field.attrs {
            if !attribute.path().is_ident("key") {
                continue;
            }
            attribute.parse_nested_meta(|meta| {
                let text = || -> Result<String> { Ok(meta.value()?.parse::<LitStr>()?.value()) };
                let name = meta.path.get_ident().map(Ident::to_string);
                match name.as_deref() {
                    Some("name") => key.name = text()?,
                    Some("required") => key.required = true,
                    Some("due") => key.due = true,
                    Some("default") => key.default = Some(text()?),
                    Some("absent") => key.absent = Some(text()?),
                    Some("range") => key.range = Some(meta.value()?.parse()?),
                    Some("amount") => key.amount = true,
                    Some("text") => key.text = Some(text()?),
                    Some("flatten") => key.flatten = true,
                    Some("hides") => key.hides.extend(text()?.split(' ').map(str::to_owned)),
                    Some("whole") => key.whole = true,
                    Some("set") => key.set = Some(text()?),
                    Some("flag") => key.flag = true,
                    _ => return Err(meta.error("no such word about a key")),
                }
                Ok(())
            })?;
        }
        if key.about.is_empty() && !key.flatten {
            let message = "a key has a doc comment: it is its sentence in the reference";
            return Err(Error::new(field.span(), message));
        }
        Ok(key)
    }

    /// What stands in the file: of an `Option`, what is in it.
    pub fn value(&self) -> &Type {
        generic(&self.ty, "Option").unwrap_or(&self.ty)
    }

    pub fn optional(&self) -> bool {
        generic(&self.ty, "Option").is_some()
    }

    /// The expression that reads the field from `fields`; `plain` is the default of the whole.
    pub fn read(&self) -> TokenStream {
        let Key {
            field, name, ty, ..
        } = self;
        if self.flatten {
            let hides = self.hides.iter();
            return quote_spanned! {ty.span()=>
                fields.hiding(&[#(#hides),*], <#ty as crate::syntax::Table>::read_keys)?
            };
        }
        let get = if self.required {
            quote!(fields.need(#name))
        } else {
            quote!(fields.get(#name))
        };
        if self.optional() {
            get
        } else {
            quote!(#get.unwrap_or(plain.#field))
        }
    }

    /// The statement that writes the field of `self` into `entries`.
    pub fn write(&self) -> TokenStream {
        let Key { field, name, .. } = self;
        if self.flatten {
            return quote!(crate::syntax::Table::write_keys(&self.#field, entries););
        }
        let push = quote!(entries.push(crate::text::Entry::new(#name, crate::syntax::Syntax::write(value))););
        if self.optional() {
            return quote!(if let Some(value) = &self.#field { #push });
        }
        if self.required {
            return quote!({ let value = &self.#field; #push });
        }
        quote!({ let value = &self.#field; if *value != plain.#field { #push } })
    }

    /// The statement that adds what is declared of the field to `keys`.
    pub fn describe(&self) -> TokenStream {
        let Key {
            name, about, ty, ..
        } = self;
        if self.flatten {
            let hides = self.hides.iter();
            return quote! {
                keys.extend(
                    <#ty as crate::syntax::Table>::keys()
                        .into_iter()
                        .filter(|key| ![#(#hides),*].contains(&key.name)),
                );
            };
        }
        let value = self.value();
        let required = self.required;
        let due = self.due || self.required;
        let default = option(self.default.as_ref());
        let absent = option(self.absent.as_ref());
        let mut shape = quote!(<#value as crate::syntax::Syntax>::shape());
        if let Some(range) = &self.range {
            shape = quote!(#shape.within(&#range));
        }
        if self.amount {
            shape = quote!(#shape.amount());
        }
        if let Some(text) = &self.text {
            shape = quote!(#shape.naming(#text));
        }
        quote! {
            keys.push(crate::syntax::Key {
                name: #name,
                about: #about,
                required: #required,
                due: #due,
                default: #default,
                absent: #absent,
                shape: #shape,
            });
        }
    }

    /// The arm that sets something within the field of `self`, for a match on a key.
    pub fn set(&self) -> Option<TokenStream> {
        let Key { field, name, .. } = self;
        if self.flatten {
            return None;
        }
        let set = if self.optional() {
            quote!(crate::syntax::set::part(&mut self.#field, rest, at))
        } else {
            quote!(crate::syntax::Syntax::set(&mut self.#field, rest, at))
        };
        Some(quote!(#name => return #set.map_err(crate::syntax::set::Missed::further),))
    }

    /// The statement that sets something within the keys of a field that stand among the others.
    pub fn set_within(&self) -> Option<TokenStream> {
        let Key { field, .. } = self;
        if !self.flatten {
            return None;
        }
        let hides = self.hides.iter();
        Some(quote! {
            if ![#(#hides),*].contains(&&**key) {
                match crate::syntax::Syntax::set(&mut self.#field, steps, at) {
                    Err(missed) if missed.depth == 0 => {}
                    done => return done,
                }
            }
        })
    }

    /// The expression that lays the field of `self` over that of `base`.
    pub fn over(&self) -> TokenStream {
        let Key { field, .. } = self;
        if self.whole && self.optional() {
            quote!(self.#field.as_ref().or(base.#field.as_ref()).cloned())
        } else if self.optional() {
            quote!(crate::syntax::part_over(&self.#field, &base.#field))
        } else {
            quote!(crate::syntax::Syntax::over(&self.#field, &base.#field))
        }
    }
}

fn option(text: Option<&String>) -> TokenStream {
    match text {
        Some(text) => quote!(Some(#text)),
        None => quote!(None),
    }
}

/// A type without the group around it that a macro leaves.
fn ungrouped(mut ty: &Type) -> &Type {
    while let Type::Group(group) = ty {
        ty = &group.elem;
    }
    ty
}

/// The `T` of `Outer<T>`, or the last of several.
pub fn generic<'t>(ty: &'t Type, outer: &str) -> Option<&'t Type> {
    let Type::Path(path) = ty else { return None };
    let last = path.path.segments.last()?;
    let PathArguments::AngleBracketed(arguments) = &last.arguments else {
        return None;
    };
    match arguments.args.last() {
        Some(GenericArgument::Type(inner)) if last.ident == outer => Some(inner),
        _ => None,
    }
}
