# frozen_string_literal: true

module Handrail
  module Web
    # Where somebody works: their places in the group, shown once by a password, and going over from one to the other
    # without signing in anew. Page: views/people/places.erb
    module PlacesPages
      # How its routes answer.
      module Helpers
        def places_page(faults: {}, values: {})
          erb :"people/places",
              locals: {
                places: Store::Places.of(account),
                faults: faults,
                values: values
              }
        end

        # The sign-in goes on as that of another account of the same person, at the cluster where its clinic lives.
        def go_over(place)
          rodauth = env.fetch("rodauth")
          rodauth.remove_current_session
          Store::Clusters.within(place.cluster) do
            other = place.account
            rodauth.go_on_as(other.values)
            session["clinic_id"] = other.clinic_id
            Store::SignInLog.note("signed_in", address: request.ip, account: other)
          end
        end
      end

      def self.registered(app)
        app.helpers(Helpers)
        app.get("/me/places") { places_page }

        app.post("/me/places") do
          desk.run(Store::Commands::AddWorkPlace.new(params, password: text("password")))
          Slowing.forget(request)
          go("/me/places")
        rescue Store::Faults, Store::Conflict => e
          status e.is_a?(Store::Conflict) ? 409 : 422
          places_page(faults: e.fields, values: params.slice("email"))
        end

        app.post("/me/places/:id/end") do
          desk.run(Store::Commands::EndWorkPlace.new("place" => id))
          go("/me/places")
        rescue Store::Faults
          go("/me/places")
        end

        app.post("/me/go/:id") do
          place = found(Store::Places.open(account, id))
          go_over(place)
          redirect "/"
        end
      end
    end
  end
end
